import { computed, ref, shallowRef, type ComputedRef } from 'vue'
import { answer, api, Refused, Unreachable } from './api/client'
import type { HomeState, Op, Outage, Plan, Verdict } from './api/types'
import { uniqueId } from './ids'
import { foreseen, overlap, touched } from './patch'

interface Waiting {
  edit_id: string
  label: string
  ops: Op[]
  base_rev: number
  /** A reading to note rather than operations to apply; it is noted on whatever revision there is. */
  reading?: NewReading
}

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

export interface Conflict {
  mine: Waiting
  theirs: string[]
}

/** What the interface knows of the open home. One per page; edits are shown at once and sent in order. */
const state = shallowRef<HomeState | null>(null)
const verdict = shallowRef<Verdict | null>(null)
const pair = ref({ plan: '', outage: '' })
const waiting = shallowRef<Waiting[]>([])
const offline = ref(false)
const problem = ref('')
const conflict = shallowRef<Conflict | null>(null)
const pouring = ref(false)
const served = ref(0)

const RETRY_MS = 1500
let events: EventSource | null = null
let sending = false
/** An undo or redo is on its way: edits made meanwhile wait for it, or they would clash with it. */
let turning = false

const queueKey = (home: string) => `imbuto.waiting.${home}`
const pairKey = (home: string) => `imbuto.pair.${home}`

function remember() {
  const home = state.value?.id
  if (!home) return
  if (waiting.value.length) localStorage.setItem(queueKey(home), JSON.stringify(waiting.value))
  else localStorage.removeItem(queueKey(home))
}

function settlePair(next: HomeState) {
  const { plan, outage } = pair.value
  const kept = {
    plan: next.plans.some((p) => p.id === plan) ? plan : (next.plans[0]?.id ?? ''),
    outage: next.outages.some((o) => o.id === outage) ? outage : (next.outages[0]?.id ?? ''),
  }
  if (kept.plan !== plan || kept.outage !== outage) pair.value = kept
}

/** trouble: what was kept could not be judged, in the server's words. */
function take(next: HomeState, judged: Verdict | null | undefined, trouble = '') {
  settlePair(next)
  let shown = next
  for (const edit of waiting.value) shown = foreseen(shown, edit.ops)
  state.value = shown
  served.value = next.rev
  if (judged && judged.plan === pair.value.plan && judged.outage === pair.value.outage) verdict.value = judged
  if (trouble) {
    problem.value = trouble
    verdict.value = null
  }
}

async function fetchState(home: string): Promise<HomeState> {
  const path = { home_id: home }
  return (await answer(api.GET('/api/homes/{home_id}', { params: { path } }))) as unknown as HomeState
}

async function judge() {
  const home = state.value
  const { plan, outage } = pair.value
  if (!home || !plan || !outage) {
    verdict.value = null
    return
  }
  pouring.value = true
  try {
    const params = { path: { home_id: home.id }, query: { plan, outage } }
    const judged = await answer(api.GET('/api/homes/{home_id}/verdict', { params }))
    if (pair.value.plan === plan && pair.value.outage === outage) verdict.value = judged as Verdict
  } catch (error) {
    tell(error)
  } finally {
    pouring.value = false
  }
}

function tell(error: unknown) {
  if (error instanceof Unreachable) offline.value = true
  else problem.value = error instanceof Error ? error.message : String(error)
}

/** Fetch the home again, as after an edit in another tab. */
async function refresh() {
  const home = state.value?.id
  if (!home) return
  try {
    take(await fetchState(home), null)
    offline.value = false
    await judge()
  } catch (error) {
    tell(error)
  }
}

/** Open a home; throws Refused when there is none. */
export async function open(home: string, plan?: string, outage?: string) {
  if (state.value?.id === home) return
  close()
  const kept = JSON.parse(localStorage.getItem(pairKey(home)) ?? '{}') as Partial<typeof pair.value>
  pair.value = { plan: plan ?? kept.plan ?? '', outage: outage ?? kept.outage ?? '' }
  waiting.value = JSON.parse(localStorage.getItem(queueKey(home)) ?? '[]') as Waiting[]
  take(await fetchState(home), null)
  await judge()
  listen(home)
  void send()
}

export function close() {
  events?.close()
  events = null
  state.value = null
  verdict.value = null
  waiting.value = []
  conflict.value = null
}

function listen(home: string) {
  events = new EventSource(`/api/homes/${encodeURIComponent(home)}/events`)
  events.addEventListener('rev', (event) => {
    const { rev } = JSON.parse((event as MessageEvent<string>).data) as { rev: number }
    if (rev > served.value && !sending && !turning && !conflict.value) void refresh()
  })
}

/** Change something. Shown at once, sent in order, kept in the browser until the server has it. */
export function edit(label: string, ops: Op[]) {
  const now = state.value
  if (!now || !ops.length) return
  problem.value = ''
  state.value = foreseen(now, ops)
  settlePair(state.value)
  waiting.value = [...waiting.value, { edit_id: uniqueId(), label, ops, base_rev: served.value }]
  remember()
  void send()
}

/** Note a reading. Kept in the browser until the server has it; each has an id, so it is never noted twice. */
export function noteReading(reading: NewReading) {
  if (!state.value) return
  problem.value = ''
  const note = { edit_id: uniqueId(), label: reading.text, ops: [], base_rev: served.value, reading }
  waiting.value = [...waiting.value, note]
  remember()
  void send()
}

interface Result {
  state: unknown
  verdict: unknown
  problem?: string
}
type Named = { edit_id: string; judge: { plan: string; outage: string } }

/** Have the server do something that is an edit too, and show what it came to; false when it did not. */
export async function act(call: (home: string, body: Named) => Promise<Result>): Promise<boolean> {
  const home = state.value
  if (!home) return false
  try {
    const result = await call(home.id, { edit_id: uniqueId(), judge: { ...pair.value } })
    take(result.state as HomeState, result.verdict as Verdict | null, result.problem)
    return true
  } catch (error) {
    tell(error)
    return false
  }
}

/** Take a reading back; the next best one counts then. */
export function takeBack(reading: string) {
  const path = (home_id: string) => ({ params: { path: { home_id, reading_id: reading } } })
  return act((home, body) =>
    answer(api.POST('/api/homes/{home_id}/readings/{reading_id}/withdraw', { ...path(home), body })),
  )
}

function post(home: string, next: Waiting) {
  const path = { home_id: home }
  const judge = pair.value.plan && pair.value.outage ? { ...pair.value } : undefined
  const { reading, ...edit } = next
  if (!reading) return answer(api.POST('/api/homes/{home_id}/edits', { params: { path }, body: { ...edit, judge } }))
  const rest = { home: false, setting: '', side: 'appliance' as const, season: 'any' as const, judge }
  const body = { edit_id: next.edit_id, ...rest, ...reading }
  return answer(api.POST('/api/homes/{home_id}/readings', { params: { path }, body }))
}

async function send() {
  if (sending || turning || conflict.value) return
  sending = true
  pouring.value = waiting.value.length > 0
  try {
    while (waiting.value[0] && !conflict.value) await sendOne(waiting.value[0])
  } finally {
    sending = false
    pouring.value = false
  }
}

async function sendOne(next: Waiting) {
  const home = state.value
  if (!home) return
  try {
    const result = await post(home.id, next)
    done(next)
    // Edits made on the answered one were made knowing it.
    waiting.value = waiting.value.map((w) => ({ ...w, base_rev: result.state.rev }))
    offline.value = false
    take(result.state as unknown as HomeState, result.verdict as Verdict | null, result.problem)
  } catch (error) {
    await sendFailed(next, error)
  }
}

async function sendFailed(next: Waiting, error: unknown) {
  if (error instanceof Unreachable) {
    offline.value = true
    await new Promise((resolve) => setTimeout(resolve, RETRY_MS))
  } else if (error instanceof Refused && error.body.kind === 'stale') {
    const changes = (error.body.changes ?? []) as { label: string; paths: string[] }[]
    const clash = changes.filter((c) => overlap(touched(next.ops), c.paths))
    const rebased = { ...next, base_rev: error.body.rev ?? next.base_rev }
    waiting.value = [rebased, ...waiting.value.slice(1)]
    if (clash.length) conflict.value = { mine: rebased, theirs: clash.map((c) => c.label) }
  } else {
    done(next)
    tell(error)
    await refresh()
  }
}

function done(edit: Waiting) {
  waiting.value = waiting.value.filter((w) => w.edit_id !== edit.edit_id)
  remember()
}

/** Answer a conflict: keep mine over theirs, or let theirs stand. */
export async function settle(keepMine: boolean) {
  const clash = conflict.value
  if (!clash) return
  if (!keepMine) done(clash.mine)
  conflict.value = null
  await refresh()
  void send()
}

async function turn(way: 'undo' | 'redo') {
  // An undo asked for while an edit is on its way means that edit.
  while (turning || (waiting.value.length && !offline.value && !conflict.value)) {
    await new Promise((r) => setTimeout(r, 20))
  }
  const home = state.value
  if (!home || waiting.value.length || !home[way]) return
  turning = true
  pouring.value = true
  try {
    const params = { path: { home_id: home.id } }
    const body = { edit_id: uniqueId(), judge: { ...pair.value } }
    const result = await answer(
      way === 'undo'
        ? api.POST('/api/homes/{home_id}/undo', { params, body })
        : api.POST('/api/homes/{home_id}/redo', { params, body }),
    )
    waiting.value = waiting.value.map((w) => ({ ...w, base_rev: result.state.rev }))
    take(result.state as unknown as HomeState, result.verdict as Verdict | null, result.problem)
    if (!result.verdict) await judge()
  } catch (error) {
    tell(error)
  } finally {
    turning = false
    pouring.value = false
    void send()
  }
}

export const undo = () => turn('undo')
export const redo = () => turn('redo')

/** Look at another pair of plan and outage. */
export async function choose(next: Partial<typeof pair.value>) {
  pair.value = { ...pair.value, ...next }
  const home = state.value
  if (home) localStorage.setItem(pairKey(home.id), JSON.stringify(pair.value))
  await judge()
}

function step(list: { id: string }[], now: string, by: number): string {
  const at = list.findIndex((x) => x.id === now)
  return list[(at + by + list.length) % list.length]?.id ?? now
}

export const stepPlan = (by: number) => choose({ plan: step(state.value?.plans ?? [], pair.value.plan, by) })
export const stepOutage = (by: number) => choose({ outage: step(state.value?.outages ?? [], pair.value.outage, by) })

const home = computed(() => state.value?.home ?? null)
const plan: ComputedRef<Plan | null> = computed(() => state.value?.plans.find((p) => p.id === pair.value.plan) ?? null)
const outage: ComputedRef<Outage | null> = computed(
  () => state.value?.outages.find((o) => o.id === pair.value.outage) ?? null,
)

/** The open home and its verdict, to read. */
export function useSession() {
  return { state, home, plan, outage, pair, verdict, waiting, offline, problem, conflict, pouring, served }
}
