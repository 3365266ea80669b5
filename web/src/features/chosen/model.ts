import { blanks } from '@/shared/api/blanks'
import type { BoardView, Cord, Feed, Home, Op, Plan, Stance, TransferEquipment, Verdict } from '@/shared/api/types'
import { applied, escape } from '@/shared/session/patch'

/** What can be fed: a circuit with a switch, a load with cords. */
export interface Target {
  kind: 'circuit' | 'load'
  id: string
}

export function feedOf(plan: Plan, target: Target): Feed | null {
  return Object.values(plan.feeds).find((f) => f[target.kind] === target.id) ?? null
}

export function stanceOf(plan: Plan, target: Target): Stance | 'off' {
  return feedOf(plan, target)?.stance ?? 'off'
}

export function targetName(home: Home, target: Target): string {
  return (target.kind === 'circuit' ? home.circuits[target.id]?.name : home.loads[target.id]?.name) ?? target.id
}

/** How many places each circuit takes, as the verdict has it. */
export type Spans = Record<string, number>

export function spansOf(verdict: Pick<Verdict, 'circuits'> | null): Spans {
  return Object.fromEntries((verdict?.circuits ?? []).map((c) => [c.id, c.places]))
}

/** The places a feed takes, side by side. */
export function span(spans: Spans, feed: { circuit: string | null; place: number }): number[] {
  return Array.from({ length: spans[feed.circuit ?? ''] ?? 1 }, (_, i) => feed.place + i)
}

/** Where things of a plan hang: one of its devices, or the cords of one of its sources. */
export interface Board {
  device: string
  source: string
}

export const boardKey = (board: Board) => `${board.source}/${board.device}`

/** The boards of a plan without a verdict: what its devices are, and nothing of what they do. */
export function unjudged(plan: Plan, catalogue: TransferEquipment[]): BoardView[] {
  const blank = { station: '', used: 0, legs: 0, place_legs: [], whole_panel: false, beneath: [] }
  const source = Object.keys(plan.sources)[0] ?? 'main'
  const devices = Object.values(plan.devices).map((d): BoardView => {
    const e = catalogue.find((x) => x.id === d.equipment)
    const { equipment, panel, behind } = d
    const places = e?.places ?? 0
    return {
      ...blank,
      device: d.id,
      source: d.source,
      name: e?.name ?? '',
      equipment,
      places,
      word: 'places',
      panel,
      behind,
    }
  })
  if (devices.length) return devices
  const cords = { device: '', source, name: 'Cords only', equipment: 'cords', places: 0, panel: null, behind: null }
  return [{ ...blank, ...cords, word: 'outlets' }]
}

/** The device a feed is at, '' for a cord. */
export function deviceOf(plan: Plan, feed: Feed): string {
  if (feed.load !== null) return ''
  return feed.device ?? Object.values(plan.devices).find((d) => d.source === feed.source)?.id ?? ''
}

export function isAt(plan: Plan, feed: Feed, board: Board): boolean {
  return feed.source === board.source && deviceOf(plan, feed) === board.device
}

export function feedsAt(plan: Plan, board: Board): Feed[] {
  return Object.values(plan.feeds).filter((f) => isAt(plan, f, board))
}

/** The first place that is free; one past the last when the device is full, which the verdict will say. */
export function freePlace(feeds: Feed[], spans: Spans, target: Target, count: number): number {
  const taken = new Set(feeds.flatMap((f) => span(spans, f)))
  if (target.kind === 'load') {
    for (let p = 1; p <= count; p++) if (!taken.has(p)) return p
    const on = (p: number) => feeds.filter((f) => f.place === p).length
    return [...Array(Math.max(count, 1)).keys()].map((i) => i + 1).sort((a, b) => on(a) - on(b))[0] ?? 1
  }
  const two = span(spans, { circuit: target.id, place: 1 }).length === 2
  for (let p = 1; ; p += two ? 2 : 1) if (!taken.has(p) && !(two && taken.has(p + 1))) return p
}

export interface Change {
  label: string
  ops: Op[]
}

/** What was left off, as it was: brought back, it has its hours and its place again. */
const left = new Map<string, Feed>()
const keyOf = (plan: Plan, target: Target) => `${plan.id} ${target.kind} ${target.id}`

const WORDS = { keep_on: 'keeps on', turns: 'takes turns', off: 'left off' }

export function setStance(
  plan: Plan,
  home: Home,
  spans: Spans,
  target: Target,
  stance: Stance | 'off',
  count: number,
  board: Board,
): Change | null {
  const feed = feedOf(plan, target)
  const label = `${targetName(home, target)} ${WORDS[stance]}`
  if (stance === (feed?.stance ?? 'off')) return null
  if (stance === 'off' && feed) left.set(keyOf(plan, target), feed)
  if (stance === 'off')
    return feed && { label, ops: [{ doc: plan.id, op: 'remove', path: `/feeds/${escape(feed.id)}` }] }
  if (feed)
    return { label, ops: [{ doc: plan.id, op: 'replace', path: `/feeds/${escape(feed.id)}/stance`, value: stance }] }
  const before = left.get(keyOf(plan, target))
  const here = feedsAt(plan, board)
  const place = freePlace(here, spans, target, count)
  const fresh = newFeed(target, stance, place, board)
  const free = before && !here.some((f) => span(spans, f).includes(before.place))
  const value = before
    ? {
        ...before,
        id: fresh.id,
        source: fresh.source,
        device: fresh.device,
        stance,
        place: free ? before.place : place,
      }
    : fresh
  const ops: Op[] = [
    ...fromCords(plan, home, target, board),
    { doc: plan.id, op: 'add', path: `/feeds/${escape(target.id)}`, value },
  ]
  if (target.kind === 'circuit' && target.id in plan.opened)
    ops.push({ doc: plan.id, op: 'remove', path: `/opened/${escape(target.id)}` })
  return { label, ops }
}

/** Several things kept on at once, each in the next free place, as one change. Null where none of them is new. */
export function putIn(
  plan: Plan,
  home: Home,
  spans: Spans,
  targets: Target[],
  count: number,
  board: Board,
): Change | null {
  const ops: Op[] = []
  let now = plan
  for (const target of targets) {
    const change = setStance(now, home, spans, target, 'keep_on', count, board)
    for (const op of change?.ops ?? []) now = applied(now, op)
    ops.push(...(change?.ops ?? []))
  }
  const only = targets[0]
  if (!ops.length || !only) return null
  return { label: targets.length === 1 ? `${targetName(home, only)} ${WORDS.keep_on}` : `${targets.length} added`, ops }
}

/** What hangs on this source's cords and comes with its circuit from now on: one of the two is enough. */
function fromCords(plan: Plan, home: Home, target: Target, board: Board): Op[] {
  if (target.kind === 'load') return []
  return Object.values(plan.feeds)
    .filter((f) => f.load && f.source === board.source && home.loads[f.load]?.circuit === target.id)
    .map((f): Op => ({ doc: plan.id, op: 'remove', path: `/feeds/${escape(f.id)}` }))
}

export function newFeed(target: Target, stance: Stance, place: number, board: Board): Feed {
  const made = { ...structuredClone(blanks.feed), id: target.id, place, stance }
  return { ...made, [target.kind]: target.id, source: board.source, device: board.device || null }
}

/** Put something in a place; what is there with a switch changes places with it, or goes to the first free one. */
export function moveTo(
  plan: Plan,
  home: Home,
  spans: Spans,
  target: Target,
  place: number,
  count: number,
  board: Board,
): Change | null {
  const feed = feedOf(plan, target)
  const here = feed !== null && isAt(plan, feed, board)
  const label = `${targetName(home, target)} to ${target.kind === 'load' ? 'outlet' : 'place'} ${place}`
  const put = (id: string, to: number): Op => ({
    doc: plan.id,
    op: 'replace',
    path: `/feeds/${escape(id)}/place`,
    value: to,
  })
  if (here && feed.place === place) return null
  const wants = span(spans, { circuit: target.kind === 'circuit' ? target.id : null, place })
  const inTheWay =
    target.kind === 'load'
      ? []
      : feedsAt(plan, board).filter((f) => f !== feed && span(spans, f).some((p) => wants.includes(p)))
  const there = inTheWay[0]
  const bring = (to: number): Op =>
    feed
      ? {
          doc: plan.id,
          op: 'replace',
          path: `/feeds/${escape(feed.id)}`,
          value: { ...feed, place: to, source: board.source, device: board.device || null },
        }
      : {
          doc: plan.id,
          op: 'add',
          path: `/feeds/${escape(target.id)}`,
          value: newFeed(target, 'keep_on', to, board),
        }
  const cords = here ? [] : fromCords(plan, home, target, board)
  if (!there) return { label, ops: [...cords, here ? put(feed.id, place) : bring(place)] }
  if (inTheWay.length > 1 || span(spans, there).length !== wants.length) return null
  if (here) return { label: `${label}, in exchange`, ops: [put(feed.id, there.place), put(there.id, feed.place)] }
  const spare = freePlace(feedsAt(plan, board), spans, { kind: 'circuit', id: there.circuit ?? '' }, count)
  return { label, ops: [...cords, put(there.id, spare), bring(there.place)] }
}

export function choice(plan: Plan, home: Home, load: string, value: 'unplugged' | 'wanted' | null): Change {
  const path = `/load_choices/${escape(load)}` as const
  const name = home.loads[load]?.name ?? load
  const words = value === 'unplugged' ? 'unplugged' : value === 'wanted' ? 'counted' : 'plugged in again'
  const op: Op = value ? { doc: plan.id, op: 'add', path, value } : { doc: plan.id, op: 'remove', path }
  return { label: `${name} ${words}`, ops: [op] }
}

/** The setting a load is used in under a plan: one of its own, '' for its own figures, null for the season's. */
export function useSetting(plan: Plan, home: Home, load: string, setting: string | null): Change {
  const path = `/settings/${escape(load)}` as const
  const item = home.loads[load]
  const words = setting === null ? 'as usual for the season' : (item?.settings[setting]?.name ?? 'as usual')
  const op: Op =
    setting === null ? { doc: plan.id, op: 'remove', path } : { doc: plan.id, op: 'add', path, value: setting }
  return { label: `${item?.name ?? load}: ${words}`, ops: [op] }
}

/** A caution settled by a person, or taken up again. */
export function tick(plan: Plan, name: string, on: boolean, words: string): Change {
  const value = on ? [...plan.ticks, name] : plan.ticks.filter((t) => t !== name)
  return {
    label: `${on ? 'Settled' : 'Not settled'}: ${words}`,
    ops: [{ doc: plan.id, op: 'replace', path: '/ticks', value }],
  }
}

/** The cord an appliance hangs on. */
export function setCord(plan: Plan, home: Home, load: string, cord: Cord | null): Change | null {
  const feed = Object.values(plan.feeds).find((f) => f.load === load)
  if (!feed) return null
  const op: Op = { doc: plan.id, op: 'replace', path: `/feeds/${escape(feed.id)}/cord`, value: cord }
  return { label: `Cord to ${home.loads[load]?.name ?? load}`, ops: [op] }
}
