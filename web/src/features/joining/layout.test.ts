import { describe, expect, it } from 'vitest'
import type { Box, Diagram, DiagramLine } from '@/shared/api/types'
import { mount, text, texts } from '@/testing/mount'
import DiagramDrawing from './components/DiagramDrawing.vue'
import { overlaps, place } from './layout'

const box = (id: string, kind: Box['kind'], lane: Box['lane'], rank: number, lines: string[] = ['fact']): Box => ({
  id,
  kind,
  title: id,
  lines,
  lane,
  rank,
  band: 0,
})
const line = (
  start: string,
  end: string,
  live: DiagramLine['live'] = [],
  more: Partial<DiagramLine> = {},
): DiagramLine => ({
  start,
  end,
  label: `${start} to ${end}`,
  live,
  data: false,
  ...more,
})
const grid = [box('grid', 'grid', 'top', 0), box('main', 'main', 'top', 1)]
const source = [box('module', 'module', 'bottom', -1), box('source', 'source', 'bottom', 0)]
const rows = (kind: Box['kind'], n: number) => Array.from({ length: n }, (_, i) => box(`r${i}`, kind, 'right', i))

/** A switch with n circuits. */
const switched = (n: number): Diagram => ({
  boxes: [
    ...grid,
    box('panel', 'panel', 'top', 2, ['26 circuits', '16 stay']),
    box('device', 'device', 'middle', 2, ['a', 'b', 'c']),
    box('inlet', 'inlet', 'bottom', 1, ['30 A', 'cord']),
    ...source,
    ...rows('circuit', n),
  ],
  lines: [
    line('grid', 'main', ['grid']),
    line('main', 'panel', ['grid']),
    line('panel', 'device', ['grid']),
    line('module', 'source', ['outage']),
    line('source', 'inlet', ['outage']),
    line('inlet', 'device', ['outage']),
    line('source', 'device', [], { data: true }),
    ...rows('circuit', n).map((r) => line('device', r.id, ['grid', 'outage'])),
  ],
  feeds: [],
  notes: [],
  guards: [],
  preparations: [],
})
/** Cords to n appliances. */
const corded = (n: number): Diagram => ({
  boxes: [
    ...grid,
    box('panel', 'panel', 'top', 2),
    box('charger', 'charger', 'middle', 0),
    ...source,
    ...rows('appliance', n),
  ],
  lines: [
    line('panel', 'charger', ['grid']),
    line('charger', 'source', ['grid']),
    ...rows('appliance', n).flatMap((r) => [line('panel', r.id, ['grid']), line('source', r.id, ['outage'])]),
  ],
  feeds: [],
  notes: [],
  guards: [],
  preparations: [],
})

describe('boxes in their places', () => {
  it.each([0, 1, 4, 10, 16, 24])('%s circuits or appliances: nothing overlaps, nothing sticks out', (n) => {
    for (const diagram of [switched(n), corded(n)]) {
      const layout = place(diagram)
      expect(overlaps(layout)).toEqual([])
      for (const p of layout.boxes) {
        expect(p.x).toBeGreaterThanOrEqual(0)
        expect(p.x + p.w).toBeLessThanOrEqual(layout.width)
        expect(p.y + p.h).toBeLessThanOrEqual(layout.height)
      }
    }
  })

  it('grows with what is fed', () => {
    expect(place(switched(4)).height).toBe(440)
    expect(place(switched(20)).height).toBe(24 + 20 * 42)
  })

  it('draws every line between boxes that are there, with right angles only', () => {
    const layout = place({ ...switched(3), lines: [...switched(3).lines, line('grid', 'nowhere')] })
    expect(layout.lines).toHaveLength(switched(3).lines.length)
    for (const drawn of layout.lines) expect(drawn.path).toMatch(/^M[\d.]+ [\d.]+(?:[HV][\d.]+)+$/)
  })

  it('finds an overlap where there is one', () => {
    const layout = place({ ...switched(0), boxes: [box('a', 'grid', 'top', 0), box('b', 'main', 'top', 0)], lines: [] })
    expect(overlaps(layout)).toEqual([['a', 'b']])
  })
})

describe('the drawing', () => {
  it.each([
    ['grid', 3 + 3, 0],
    ['outage', 0, 3 + 3],
  ] as const)('shows what is live: %s', (state, byGrid, bySource) => {
    mount(DiagramDrawing, { diagram: switched(3), state })
    expect(document.querySelectorAll('path.live.grid')).toHaveLength(byGrid)
    expect(document.querySelectorAll('path.live.outage')).toHaveLength(bySource)
    expect(document.querySelectorAll('path.data')).toHaveLength(1)
  })

  it('names every box with its facts, and labels lines', () => {
    mount(DiagramDrawing, { diagram: switched(1), state: 'outage' })
    expect(texts('.title')).toEqual(['grid', 'main', 'panel', 'device', 'inlet', 'module', 'source', 'r0'])
    expect(text('svg')).toContain('26 circuits')
    expect(texts('.label')).toContain('device to r0')
  })
})

describe('several devices, a band each', () => {
  const banded = (id: string, kind: Box['kind'], lane: Box['lane'], rank: number, band: number): Box => ({
    ...box(id, kind, lane, rank),
    band,
  })
  /** Two devices one behind the other and a third at a sub-panel, with so many circuits each. */
  const several = (n: number): Diagram => {
    const fed = [0, 1, 2].flatMap((b) =>
      Array.from({ length: n }, (_, i) => banded(`c${b}-${i}`, 'circuit', 'fed', i, b)),
    )
    return {
      boxes: [
        banded('grid', 'grid', 'way', 0, 0),
        banded('panel:shed', 'panel', 'way', 2, 0),
        ...[0, 1, 2].flatMap((b) => [
          banded(`device:${b}`, 'device', 'gear', 0, b),
          banded(`source:${b}`, 'source', 'store', 0, b),
          banded(`array:${b}`, 'array', 'fill', 0, b),
          banded(`bank:${b}`, 'module', 'fill', 1, b),
        ]),
        ...fed,
      ],
      lines: [
        line('grid', 'panel:shed', ['grid']),
        line('grid', 'device:0', ['grid']),
        line('device:0', 'device:1', ['grid']),
        line('panel:shed', 'device:2', ['grid']),
        ...[0, 1, 2].flatMap((b) => [
          line(`source:${b}`, `device:${b}`, ['outage']),
          line(`array:${b}`, `source:${b}`, ['outage']),
          line(`bank:${b}`, `source:${b}`, ['outage']),
        ]),
        ...fed.map((c) => line(`device:${c.band}`, c.id, ['outage'])),
      ],
      feeds: [],
      notes: [],
      guards: [],
      preparations: [],
    }
  }
  type Run = { a: [number, number]; b: [number, number]; line: string }
  /** The straight pieces of a path of M, H and V. */
  function pieces(drawn: ReturnType<typeof place>['lines'][number]): Run[] {
    let [x, y] = [0, 0]
    const found: Run[] = []
    for (const [, what, rest] of drawn.path.matchAll(/([MHV])([-\d. ]+)/g)) {
      const values = (rest ?? '').trim().split(/\s+/).map(Number)
      const from: [number, number] = [x, y]
      if (what === 'M') [x, y] = [values[0] ?? 0, values[1] ?? 0]
      else if (what === 'H') x = values[0] ?? 0
      else y = values[0] ?? 0
      if (what !== 'M') found.push({ a: from, b: [x, y], line: `${drawn.line.start} ${drawn.line.end}` })
    }
    return found
  }
  const span = (run: Run, k: 0 | 1) => [Math.min(run.a[k], run.b[k]), Math.max(run.a[k], run.b[k])] as const

  it.each([1, 3, 8, 14])('%s circuits each: no box on another, no line through a box, no two lines across', (n) => {
    const layout = place(several(n))
    expect(overlaps(layout)).toEqual([])
    const runs = layout.lines.flatMap(pieces)
    for (const run of runs) {
      const [x0, x1] = span(run, 0)
      const [y0, y1] = span(run, 1)
      for (const p of layout.boxes) {
        const ends = run.line.split(' ')
        if (ends.includes(p.box.id)) continue
        const through = x0 < p.x + p.w - 1 && x1 > p.x + 1 && y0 < p.y + p.h - 1 && y1 > p.y + 1
        expect(through, `${run.line} through ${p.box.id}`).toBe(false)
      }
      for (const other of runs) {
        const shares = run.line.split(' ').some((id) => other.line.split(' ').includes(id))
        if (shares || run.line === other.line) continue
        const [u0, u1] = span(other, 0)
        const [v0, v1] = span(other, 1)
        const across = x0 < u1 && x1 > u0 && y0 < v1 && y1 > v0
        const cut = (x0 === x1) !== (u0 === u1) && x0 <= u1 && x1 >= u0 && y0 <= v1 && y1 >= v0
        expect(across || cut, `${run.line} across ${other.line}`).toBe(false)
      }
    }
  })
})
