import { answer, api } from '../api/client'
import type { Op } from '../api/types'

/** An edit, a reading or a line at a gauge that waits here until the server has it. */
export interface Waiting {
  edit_id: string
  label: string
  ops: Op[]
  base_rev: number
  /** Ids of the edits that waited and were shown when this one was made: it was made knowing them. */
  knows?: string[]
  /** It only tries something, and is offered to be taken back. */
  trial?: boolean
  /** A reading to note rather than operations to apply; it is noted on whatever revision there is. */
  reading?: NewReading
  /** A line at a gauge in an outage, likewise. */
  gauge?: GaugeLine
}

/** A line at a gauge: whose, null for the first station, and when it was written, in the home's own time. */
export interface GaugeLine {
  text: string
  source: string | null
  at: string
}

/** How something that waits here went: the server has it, it was refused, or it is kept until the server answers. */
export type Sent = 'kept' | 'refused' | 'later'

/** A reading as typed, and what it is of; with neither, the text begins with a load's name. */
export interface NewReading {
  text: string
  load?: string | null
  circuit?: string | null
  home?: boolean
  setting?: string
  season?: 'any' | 'warm' | 'cold'
  side?: 'appliance' | 'inverter' | 'battery'
}

/** Which plan and outage are looked at. */
export interface Pair {
  plan: string
  outage: string
}

export interface Conflict {
  mine: Waiting
  theirs: string[]
}

/** Send what waits to where its kind belongs. since: the revision that this page has everything of. */
export function post(home: string, next: Waiting, pair: Pair, since: number | null) {
  const path = { home_id: home }
  const judge = pair.plan && pair.outage ? { ...pair } : undefined
  const { reading, gauge, trial = false, edit_id, label, ops, base_rev } = next
  if (gauge) {
    const body = { ...pair, edit_id: next.edit_id, ...gauge }
    return answer(api.POST('/api/homes/{home_id}/live/notes', { params: { path }, body }))
  }
  if (!reading) {
    const body = { edit_id, label, ops, base_rev, trial, judge, since }
    return answer(api.POST('/api/homes/{home_id}/edits', { params: { path }, body }))
  }
  const usual = { home: false, setting: '', side: 'appliance' as const, season: 'any' as const, judge, since }
  const body = { edit_id: next.edit_id, ...usual, ...reading }
  return answer(api.POST('/api/homes/{home_id}/readings', { params: { path }, body }))
}
