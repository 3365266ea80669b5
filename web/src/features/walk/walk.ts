import { roundOrder } from '@/features/meters/round'
import { newCircuit, newLoad } from '@/features/house/model'
import type { Circuit, Home, Op, Walk, HomePath } from '@/shared/api/types'
import { freshId } from '@/shared/ids'
import { escape } from '@/shared/session/patch'

/** What stands in this browser only: the breaker that is off just now, and since when. */
export interface OffNow {
  circuit: string
  since: number
}

const offKey = (home: string) => `imbuto.walk.${home}`
export const rememberOff = (home: string, off: OffNow | null) =>
  off ? localStorage.setItem(offKey(home), JSON.stringify(off)) : localStorage.removeItem(offKey(home))
export const recallOff = (home: string) => JSON.parse(localStorage.getItem(offKey(home)) ?? 'null') as OffNow | null

/** The circuits in the order they are walked, those that must not be off for long last. */
export function walkOrder(home: Home): { circuit: Circuit; timed: boolean; done: boolean }[] {
  const entries = home.household.walk?.entries ?? {}
  return roundOrder(home).flatMap(({ circuit, timed }) => {
    const found = home.circuits[circuit]
    return found ? [{ circuit: found, timed, done: circuit in entries }] : []
  })
}

/** Loads that need thought before any breaker goes off. */
export const dependents = (home: Home) => Object.values(home.loads).filter((l) => l.purpose === 'life')

export function beginOps(home: Home, depends: string, at: string): Op[] {
  const walk = home.household.walk
  const value: Walk = { begun: walk?.begun ?? at, depends, entries: walk?.entries ?? {}, ended: null }
  return [{ doc: 'home', op: 'replace', path: '/household/walk', value }]
}

export interface Found {
  name: string
  room: string
  loads: string[]
  added: string[]
  dark: string
}

/** One breaker walked, as one edit: what hangs on it, what it is called, and that it was seen. */
export function entryOps(home: Home, circuit: Circuit, found: Found, at: string): Op[] {
  const base = `/circuits/${escape(circuit.id)}` as const
  const ops: Op[] = []
  const set = (path: HomePath, value: unknown) => ops.push({ doc: 'home', op: 'replace', path, value })
  if (found.name.trim() && found.name.trim() !== circuit.name) set(`${base}/name`, found.name.trim())
  if (found.room.trim() !== circuit.room) set(`${base}/room`, found.room.trim())
  if (!circuit.traced) set(`${base}/traced`, true)
  for (const load of Object.values(home.loads)) {
    const here = found.loads.includes(load.id)
    const path = `/loads/${escape(load.id)}/circuit` as const
    if (here && load.circuit !== circuit.id) set(path, circuit.id)
    if (!here && load.circuit === circuit.id) set(path, null)
  }
  const taken = Object.keys(home.loads)
  for (const name of found.added) {
    const id = freshId(name, taken)
    taken.push(id)
    const value = { ...newLoad(id, circuit.id, found.room.trim()), name, average_w: 0, run_w: 0 }
    ops.push({ doc: 'home', op: 'add', path: `/loads/${escape(id)}`, value })
  }
  const value = { at, dark: found.dark.trim() }
  ops.push({ doc: 'home', op: 'add', path: `/household/walk/entries/${escape(circuit.id)}`, value })
  return ops
}

/** A breaker nobody had listed. */
export function newBreaker(home: Home, slot: number, amps: number): { id: string; ops: Op[] } {
  const id = freshId(`circuit ${slot}`, Object.keys(home.circuits))
  const value = { ...newCircuit(id, slot), name: `Breaker ${slot}`, breaker_a: amps, traced: false }
  return { id, ops: [{ doc: 'home', op: 'add', path: `/circuits/${escape(id)}`, value }] }
}

export const endOps = (at: string | null): Op[] => [
  { doc: 'home', op: 'replace', path: '/household/walk/ended', value: at },
]
