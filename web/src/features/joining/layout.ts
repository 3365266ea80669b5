import type { Box, Diagram, DiagramLine } from '@/shared/api/types'

/** Where a box of the diagram stands. */
export interface Placed {
  box: Box
  x: number
  y: number
  w: number
  h: number
}

export interface Drawn {
  line: DiagramLine
  path: string
  label: { x: number; y: number; anchor: 'start' | 'middle' | 'end' } | null
}

export interface Layout {
  width: number
  height: number
  boxes: Placed[]
  lines: Drawn[]
}

const WIDTH = 1100
const ROW = 42
const LEFT = 18
const COLUMN = 190
const BOX_W = 158
const RIGHT = { x: 842, w: 240 }
const DEVICE = { x: 430, w: 258 }
const BUS_X = { source: 718, grid: 746 }
/** Where the bottom lane's boxes begin: modules, station, inlet. */
const BOTTOM_X: Record<number, number> = { [-1]: LEFT, 0: 270, 1: 534 }

const LEFT_STEP = 76

const heightOf = (box: Box) => (box.lane === 'right' ? 34 : 28 + 15 * box.lines.length)

/** Of several devices: the grid's way, what fills, stores, gear and what is fed, each in a column of its own. */
const BANDS = {
  way: { x: 14, w: 158 },
  fill: { x: 190, w: 164 },
  store: { x: 396, w: 172 },
  gear: { x: 792, w: 274 },
  fed: { x: 1180, w: 232 },
} as const
type Column = keyof typeof BANDS
const isBanded = (lane: Box['lane']): lane is Column => lane in BANDS
const BAND_WIDTH = 1426
const BAND_GAP = 30
const STACK = 12

/** Every device in a band of its own, the grid coming down the left side: no line crosses a box, nor another line. */
function placeBands(diagram: Diagram): Layout {
  const boxes = diagram.boxes as Box[]
  const bands = [...new Set(boxes.filter((b) => b.lane !== 'way').map((b) => b.band))].sort((a, b) => a - b)
  const stackOf = (band: number, lane: Column) =>
    boxes.filter((b) => b.band === band && b.lane === lane).sort((a, b) => a.rank - b.rank)
  const tall = (stack: Box[]) => stack.reduce((sum, b) => sum + bandHeight(b) + STACK, 0)
  const placed: Placed[] = []
  const tops: number[] = []
  let y = 16
  for (const band of bands) {
    tops.push(y)
    // The grid's line into a device runs above its store.
    const below = { fill: 42, store: 42, gear: 0, fed: 0 }
    for (const lane of ['fill', 'store', 'gear', 'fed'] as const) {
      let at = y + below[lane]
      for (const box of stackOf(band, lane)) {
        const h = bandHeight(box)
        placed.push({ box, x: BANDS[lane].x, y: at, w: BANDS[lane].w, h })
        at += h + STACK
      }
    }
    const heights = (['fill', 'store', 'gear', 'fed'] as const).map((lane) => below[lane] + tall(stackOf(band, lane)))
    y += Math.max(...heights, 60) + BAND_GAP
  }
  const way = boxes.filter((b) => b.lane === 'way').sort((a, b) => a.rank - b.rank)
  const firstUse = (id: string) => {
    const gear = (diagram.lines as DiagramLine[]).find((l) => l.start === id && l.end.startsWith('device:'))?.end
    const band = boxes.find((b) => b.id === gear)?.band
    return band === undefined ? 16 : (tops[bands.indexOf(band)] ?? 16)
  }
  let at = 16
  for (const box of way) {
    const h = bandHeight(box)
    at = Math.max(at, firstUse(box.id))
    placed.push({ box, x: BANDS.way.x, y: at, w: BANDS.way.w, h })
    at += h + 34
  }
  const by = Object.fromEntries(placed.map((p) => [p.box.id, p]))
  const lines = (diagram.lines as DiagramLine[]).flatMap((line) => {
    const [from, to] = [by[line.start], by[line.end]]
    return from && to ? [drawBand(line, from, to)] : []
  })
  return { width: BAND_WIDTH, height: Math.max(y, at), boxes: placed, lines }
}

const bandHeight = (box: Box) => (box.lane === 'fed' ? 34 : 28 + 15 * box.lines.length)

/** A line of the bands, with right angles. */
function drawBand(line: DiagramLine, from: Placed, to: Placed): Drawn {
  const right = from.x + from.w
  const above = (x: number, y: number) => ({ x, y: y - 5, anchor: 'middle' as const })
  const lanes = `${from.box.lane} ${to.box.lane}`
  if (lanes === 'way way') {
    const x = from.x + 24
    return { line, path: `M${x} ${from.y + from.h}V${to.y}`, label: null }
  }
  if (lanes === 'way gear') {
    const y = to.y + 18
    // A line into a device lower down leaves the box at its foot, beside the way itself.
    const path =
      y <= from.y + from.h && y >= from.y
        ? `M${right} ${y}H${to.x}`
        : `M${from.x + from.w - 20} ${from.y + from.h}V${y}H${to.x}`
    return { line, path, label: { x: to.x - 8, y: y - 5, anchor: 'end' } }
  }
  if (lanes === 'gear gear') {
    const x = from.x + 40
    const label = { x: x + 8, y: (from.y + from.h + to.y) / 2 + 4, anchor: 'start' as const }
    return { line, path: `M${x} ${from.y + from.h}V${to.y}`, label }
  }
  if (lanes === 'store gear') {
    const y = Math.max(from.y, to.y) + (line.data ? 44 : 24)
    return { line, path: `M${right} ${y}H${to.x}`, label: line.data ? null : above((right + to.x) / 2, y) }
  }
  if (lanes === 'fill store') {
    const y = from.y + from.h / 2
    const bus = to.x - 22
    const enter = Math.min(Math.max(y, to.y + 10), to.y + to.h - 8 + 3 * from.box.rank)
    return {
      line,
      path: y === enter ? `M${right} ${y}H${to.x}` : `M${right} ${y}H${bus}V${enter}H${to.x}`,
      label: null,
    }
  }
  const y = to.y + to.h / 2
  const start = Math.min(Math.max(y, from.y + 12), from.y + from.h - 12)
  const bus = to.x - 96
  const path = y === start ? `M${right} ${y}H${to.x}` : `M${right} ${start}H${bus}V${y}H${to.x}`
  return { line, path, label: { x: to.x - 8, y: y - 5, anchor: 'end' } }
}

/** Boxes in their places: the grid's way on top, the source's below, the device between, what is fed on the right. */
export function place(diagram: Diagram): Layout {
  const boxes = diagram.boxes as Box[]
  if (boxes.some((b) => isBanded(b.lane))) return placeBands(diagram)
  const rows = boxes.filter((b) => b.lane === 'right').length
  const lefts = boxes.filter((b) => b.lane === 'left').length
  const height = Math.max(440, 24 + rows * ROW, 190 + LEFT_STEP * lefts)
  const bottom = height - 92
  const placed = boxes.map((box): Placed => {
    const h = heightOf(box)
    const middle = Math.round((height - h) / 2)
    if (box.lane === 'right') return { box, x: RIGHT.x, y: 12 + box.rank * ROW, w: RIGHT.w, h }
    if (box.kind === 'device') return { box, x: DEVICE.x, y: middle, w: DEVICE.w, h }
    if (box.kind === 'charger') return { box, x: DEVICE.x + 30, y: middle, w: 180, h }
    if (box.lane === 'left') return { box, x: LEFT, y: bottom - LEFT_STEP * (box.rank + 1), w: 184, h: Math.max(h, 50) }
    if (box.lane === 'bottom') return { box, x: BOTTOM_X[box.rank] ?? LEFT, y: bottom, w: 164, h: Math.max(h, 58) }
    return { box, x: LEFT + COLUMN * box.rank, y: 16, w: BOX_W + (box.kind === 'panel' ? 30 : 0), h }
  })
  const by = Object.fromEntries(placed.map((p) => [p.box.id, p]))
  const lines = (diagram.lines as DiagramLine[]).flatMap((line) => {
    const [from, to] = [by[line.start], by[line.end]]
    return from && to ? [draw(line, from, to)] : []
  })
  return { width: WIDTH, height, boxes: placed, lines }
}

const mid = (p: Placed) => ({ x: p.x + p.w / 2, y: p.y + p.h / 2 })

/** A line with right angles, by which lanes it joins. */
function draw(line: DiagramLine, from: Placed, to: Placed): Drawn {
  const a = mid(from)
  const b = mid(to)
  const right = from.x + from.w
  if (to.box.lane === 'right') {
    const cords = to.box.kind === 'appliance'
    const grid = from.box.kind === 'panel'
    const bus = grid ? BUS_X.grid : BUS_X.source
    const y = cords ? b.y + (grid ? -7 : 7) : b.y
    const start = cords ? (grid ? from.y + from.h / 2 : a.y) : a.y
    const label = cords && grid ? null : { x: RIGHT.x - 8, y: y - 6, anchor: 'end' as const }
    return { line, path: `M${right} ${start}H${bus}V${y}H${to.x}`, label }
  }
  if (from.box.lane === 'left') {
    return { line, path: `M${right} ${a.y}H${to.x + 42 + 14 * from.box.rank}V${to.y}`, label: null }
  }
  const bottomOf = from.y + from.h
  const beside = (x: number, y: number) => ({ x: x + 6, y: y + 4, anchor: 'start' as const })
  if (line.data) {
    const x = right - 24
    return {
      line,
      path: `M${x} ${from.y}V${b.y + 8}H${to.x}`,
      label: { x: x + 6, y: from.y - 10, anchor: 'start' },
    }
  }
  if (from.box.lane === to.box.lane) {
    const label = line.label ? { x: (right + to.x) / 2, y: a.y - 7, anchor: 'middle' as const } : null
    return { line, path: `M${right} ${a.y}H${to.x}`, label }
  }
  if (from.box.kind === 'main')
    return { line, path: `M${a.x} ${bottomOf}V${b.y - 8}H${to.x}`, label: beside(a.x, (bottomOf + b.y) / 2) }
  if (from.box.kind === 'panel')
    return { line, path: `M${a.x + 40} ${bottomOf}V${to.y}`, label: beside(a.x + 40, (bottomOf + to.y) / 2) }
  if (from.box.kind === 'charger') {
    const y = to.y - 26
    return { line, path: `M${a.x} ${bottomOf}V${y}H${b.x}V${to.y}`, label: beside(a.x, (bottomOf + y) / 2) }
  }
  if (from.box.kind === 'inlet')
    return { line, path: `M${a.x} ${from.y}V${to.y + to.h}`, label: beside(a.x, (from.y + to.y + to.h) / 2) }
  return {
    line,
    path: `M${a.x} ${from.y}V${b.y + 24}H${to.x}`,
    label: { x: a.x - 6, y: (from.y + b.y) / 2 + 30, anchor: 'end' },
  }
}

/** Whether any two boxes overlap, which a drawing of this kind must never have. */
export function overlaps(layout: Layout): [string, string][] {
  const found: [string, string][] = []
  layout.boxes.forEach((a, i) =>
    layout.boxes.slice(i + 1).forEach((b) => {
      if (a.x < b.x + b.w && b.x < a.x + a.w && a.y < b.y + b.h && b.y < a.y + a.h) found.push([a.box.id, b.box.id])
    }),
  )
  return found
}
