import { describe, expect, it } from 'vitest'
import type { DiagramLine, Drawing } from '@/shared/api/types'
import { mount, text, texts } from '@/testing/mount'
import DiagramDrawing from './components/DiagramDrawing.vue'

const box = (id: string, y: number): Drawing['boxes'][number] => ({
  box: { id, kind: 'circuit', title: id, lines: [`fact of ${id}`], lane: 'right', rank: 0, band: 0 },
  x: 10,
  y,
  w: 100,
  h: 34,
})
const drawn = (start: string, live: DiagramLine['live'], data = false): Drawing['lines'][number] => ({
  line: { start, end: 'b', label: `${start} to b`, live, data },
  path: 'M0 0H10V20',
  label: { x: 4, y: 4, anchor: 'end' },
})
const layout: Drawing = {
  width: 300,
  height: 200,
  boxes: [box('a', 10), box('b', 80)],
  lines: [drawn('a', ['grid']), drawn('c', ['grid', 'outage']), drawn('d', [], true)],
}

describe('the drawing', () => {
  it.each([
    ['grid', 2, 0],
    ['outage', 0, 1],
  ] as const)('shows what is live: %s', (state, byGrid, bySource) => {
    mount(DiagramDrawing, { layout, state })
    expect(document.querySelectorAll('path.live.grid')).toHaveLength(byGrid)
    expect(document.querySelectorAll('path.live.outage')).toHaveLength(bySource)
    expect(document.querySelectorAll('path.data')).toHaveLength(1)
  })

  it('names every box with its facts, and labels lines', () => {
    mount(DiagramDrawing, { layout, state: 'outage' })
    expect(texts('.title')).toEqual(['a', 'b'])
    expect(text('svg')).toContain('fact of b')
    expect(texts('.label')).toContain('a to b')
  })
})
