import { blanks } from '@/shared/api/blanks'
import type { Feed, Home, Op, Plan, TransferEquipment } from '@/shared/api/types'
import { freshId } from '@/shared/ids'
import { escape } from '@/shared/session/patch'
import { deviceOf, feedsAt, freePlace, newFeed, type Board, type Change, type Spans, type Target } from './model'

/** From the one that comes first to the one that can wait. */
const PURPOSES = ['life', 'house', 'food', 'communications', 'comfort', 'convenience']

const feedOp = (plan: Plan, feed: Feed): Op => ({
  doc: plan.id,
  op: 'add',
  path: `/feeds/${escape(feed.id)}`,
  value: feed,
})
const dropOp = (plan: Plan, feed: Feed): Op => ({ doc: plan.id, op: 'remove', path: `/feeds/${escape(feed.id)}` })

/** Other transfer equipment at a board. What was chosen stays chosen as far as it can hang there, all in one edit. */
export function changeEquipment(plan: Plan, home: Home, spans: Spans, board: Board, to: TransferEquipment): Change {
  if (to.kind === 'cords') return toCords(plan, home, spans, board, to)
  if (board.device)
    return {
      label: to.name,
      ops: [{ doc: plan.id, op: 'replace', path: `/devices/${escape(board.device)}/equipment`, value: to.id }],
    }
  return fromCords(plan, home, spans, board, to)
}

/** A device where there were cords: a load on a circuit goes with that circuit, any other keeps its cord. */
function fromCords(plan: Plan, home: Home, spans: Spans, board: Board, to: TransferEquipment): Change {
  const id = 'main' in plan.devices ? freshId(to.name, Object.keys(plan.devices)) : 'main'
  const at = { device: id, source: board.source }
  const value = { ...structuredClone(blanks.device), id, equipment: to.id, source: board.source }
  const ops: Op[] = [{ doc: plan.id, op: 'add', path: `/devices/${escape(id)}`, value }]
  const made: Feed[] = []
  for (const feed of feedsAt(plan, board)) {
    const circuit = home.loads[feed.load ?? '']?.circuit
    if (!circuit) continue
    ops.push(dropOp(plan, feed))
    if (made.some((f) => f.circuit === circuit) || Object.values(plan.feeds).some((f) => f.circuit === circuit))
      continue
    const target: Target = { kind: 'circuit', id: circuit }
    const fresh = newFeed(target, feed.stance, freePlace(made, spans, target, to.places), at)
    made.push({ ...feed, id: fresh.id, load: null, circuit, device: id, place: fresh.place, cord: null })
  }
  return { label: to.name, ops: [...ops, ...made.map((f) => feedOp(plan, f))] }
}

/** Cords where there was a device: what a circuit was chosen for hangs on a cord of its own, if it has a plug. */
function toCords(plan: Plan, home: Home, spans: Spans, board: Board, to: TransferEquipment): Change {
  if (!board.device) return { label: to.name, ops: [] }
  const ops: Op[] = []
  let dropped = 0
  const made = feedsAt(plan, { ...board, device: '' })
  for (const feed of feedsAt(plan, board)) {
    ops.push(dropOp(plan, feed))
    const loads = Object.values(home.loads).filter(
      (l) => l.circuit === feed.circuit && !l.both_legs && !l.hard_wired && plan.load_choices[l.id] !== 'unplugged',
    )
    const best = Math.min(...loads.map((l) => PURPOSES.indexOf(l.purpose)))
    const first = loads.filter((l) => PURPOSES.indexOf(l.purpose) === best || plan.load_choices[l.id] === 'wanted')
    if (!first.length) dropped++
    for (const load of first) {
      if (Object.values(plan.feeds).some((f) => f.load === load.id)) continue
      const place = freePlace(made, spans, { kind: 'load', id: load.id }, Infinity)
      const cord = { ...feed, id: `cord-${load.id}`.slice(0, 60), circuit: null, load: load.id, device: null, place }
      made.push(cord)
      ops.push(feedOp(plan, cord))
    }
  }
  for (const device of Object.values(plan.devices))
    if (device.behind === board.device)
      ops.push({ doc: plan.id, op: 'replace', path: `/devices/${escape(device.id)}/behind`, value: null })
  ops.push({ doc: plan.id, op: 'remove', path: `/devices/${escape(board.device)}` })
  return { label: `${to.name}${dropped ? `; ${dropped} let go` : ''}`, ops }
}

/** A further device, empty, at the main panel. */
export function addDevice(plan: Plan, to: TransferEquipment): { change: Change; board: Board } {
  const id = freshId(to.name, Object.keys(plan.devices))
  const busy = new Set(Object.values(plan.devices).map((d) => d.source))
  const sources = Object.values(plan.sources)
  const source = sources.find((s) => !busy.has(s.id) && !s.after)?.id ?? sources[0]?.id ?? 'main'
  const value = { ...structuredClone(blanks.device), id, equipment: to.id, source }
  const ops: Op[] = [{ doc: plan.id, op: 'add', path: `/devices/${escape(id)}`, value }]
  return { change: { label: `Another device: ${to.name}`, ops }, board: { device: id, source } }
}

/** A device away, with what is in it. */
export function removeDevice(plan: Plan, id: string, name: string): Change {
  const ops: Op[] = Object.values(plan.feeds)
    .filter((f) => deviceOf(plan, f) === id)
    .map((f) => dropOp(plan, f))
  for (const other of Object.values(plan.devices))
    if (other.behind === id)
      ops.push({ doc: plan.id, op: 'replace', path: `/devices/${escape(other.id)}/behind`, value: null })
  return { label: `Without ${name}`, ops: [...ops, { doc: plan.id, op: 'remove', path: `/devices/${escape(id)}` }] }
}

/** Another source behind a device: what is in it goes with it. */
export function feedDeviceBy(plan: Plan, id: string, source: string, words: string): Change {
  const ops: Op[] = Object.values(plan.feeds)
    .filter((f) => deviceOf(plan, f) === id)
    .flatMap((f): Op[] => [
      { doc: plan.id, op: 'replace', path: `/feeds/${escape(f.id)}/source`, value: source },
      { doc: plan.id, op: 'replace', path: `/feeds/${escape(f.id)}/device`, value: id },
    ])
  return {
    label: words,
    ops: [...ops, { doc: plan.id, op: 'replace', path: `/devices/${escape(id)}/source`, value: source }],
  }
}

/** Who opens the breakers of circuits that are left off behind gear that makes a whole panel live. */
export function openBy(plan: Plan, circuits: string[], who: string, words: string): Change {
  return {
    label: words,
    ops: circuits.map((c): Op =>
      who
        ? { doc: plan.id, op: 'add', path: `/opened/${escape(c)}`, value: who }
        : { doc: plan.id, op: 'remove', path: `/opened/${escape(c)}` },
    ),
  }
}
