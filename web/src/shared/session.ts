import { until } from '@vueuse/core'
import { defineStore, storeToRefs } from 'pinia'
import { computed, ref, shallowRef, type ComputedRef } from 'vue'
import { answer, api, Refused, Unreachable } from './api/client'
import type { HomeNews, HomeState, Op, Outage, Plan, Verdict, WatchView } from './api/types'
import { uniqueId } from './ids'
import { foreseen, overlap, touched, withNews } from './patch'
import { pinia } from './pinia'
import { measures, measuresOf } from './units/measures'
import { post, type Conflict, type GaugeLine, type NewReading, type Sent, type Waiting } from './queue'

export type { Conflict, GaugeLine, NewReading, Sent } from './queue'

interface Result {
  news: unknown
  verdict: unknown
  problem?: string
}
type Named = { edit_id: string; judge: { plan: string; outage: string }; since: number | null }

/** What the interface knows of the open home. One per page; edits are shown at once and sent in order. */
export const useSessionStore = defineStore('session', () => {
  const state = shallowRef<HomeState | null>(null)
  const verdict = shallowRef<Verdict | null>(null)
  const pair = ref({ plan: '', outage: '' })
  const waiting = shallowRef<Waiting[]>([])
  const offline = ref(false)
  const problem = ref('')
  const conflict = shallowRef<Conflict | null>(null)
  const pouring = ref(false)
  const served = ref(0)
  /** A watched station, as it was seen last, and when that came in by this page's own count. */
  const station = shallowRef<(WatchView & { heard: number }) | null>(null)
  const settling = new Map<string, (how: Sent) => void>()

  const RETRY_MS = 1500
  const LOST_MS = 1200
  let events: EventSource | null = null
  let sending = false
  /** As the server has it, without what is still waiting here. */
  let kept: HomeState | null = null
  /** An undo or redo is on its way: edits made meanwhile wait for it, or they would clash with it. */
  const turning = ref(false)

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
    kept = next
    let shown = next
    for (const edit of waiting.value) shown = foreseen(shown, edit.ops)
    state.value = shown
    measures.value = measuresOf(shown.home.site)
    served.value = next.rev
    if (judged && judged.plan === pair.value.plan && judged.outage === pair.value.outage) verdict.value = judged
    if (trouble) {
      problem.value = trouble
      verdict.value = null
    }
  }

  /** What an edit was answered with: the news, laid over what was kept; fetched whole where they do not meet. */
  async function hear(result: Result) {
    const news = result.news as HomeNews
    const next = withNews(kept, news) ?? (await fetchState(news.id))
    take(next, result.verdict as Verdict | null, result.problem)
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
  async function open(home: string, plan?: string, outage?: string) {
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

  function close() {
    events?.close()
    events = null
    state.value = null
    kept = null
    verdict.value = null
    station.value = null
    waiting.value = []
    conflict.value = null
  }

  /** A browser holds few lines to one server open at once: a tab that nobody looks at gives its own up, and asks when it is seen. */
  document.addEventListener('visibilitychange', () => {
    const home = state.value?.id
    if (!home) return
    events?.close()
    events = null
    if (document.hidden) return
    listen(home)
    void refresh()
  })

  function listen(home: string) {
    events = new EventSource(`/api/homes/${encodeURIComponent(home)}/events`)
    events.addEventListener('rev', (event) => {
      const { rev } = JSON.parse((event as MessageEvent<string>).data) as { rev: number }
      if (rev > served.value && !sending && !turning.value && !conflict.value) void refresh()
    })
    events.addEventListener('station', (event) => {
      heard(JSON.parse((event as MessageEvent<string>).data) as WatchView)
    })
    // The stream comes back by itself; until it does, nobody is told by waiting alone that the server has stopped.
    events.onerror = () =>
      window.setTimeout(() => {
        if (events?.readyState === EventSource.CONNECTING) offline.value = true
      }, LOST_MS)
    events.onopen = () => {
      if (!offline.value) return
      offline.value = false
      void refresh()
      void send()
    }
  }

  /** Change something. Shown at once, sent in order, kept in the browser until the server has it. */
  function edit(label: string, asked: Op[], trial = false) {
    const now = state.value
    if (!now || !asked.length) return
    // As it will be sent: what a page holds may be a view of its own that cannot be copied.
    const ops = JSON.parse(JSON.stringify(asked)) as Op[]
    problem.value = ''
    state.value = foreseen(now, ops)
    settlePair(state.value)
    waiting.value = [...waiting.value, { edit_id: uniqueId(), label, ops, base_rev: served.value, trial }]
    remember()
    void send()
  }

  /** Note a reading. Kept in the browser until the server has it; each has an id, so it is never noted twice. */
  function noteReading(reading: NewReading) {
    if (!state.value) return
    problem.value = ''
    const note = { edit_id: uniqueId(), label: reading.text, ops: [], base_rev: served.value, reading }
    waiting.value = [...waiting.value, note]
    remember()
    void send()
  }

  function heard(view: WatchView) {
    station.value = view.on ? { ...view, heard: performance.now() } : null
  }

  /** Note a line at a gauge; kept in the browser like an edit, until the server has it. */
  function noteGauge(gauge: GaugeLine): Promise<Sent> {
    problem.value = ''
    const note = { edit_id: uniqueId(), label: `Gauge: ${gauge.text}`, ops: [], base_rev: served.value, gauge }
    waiting.value = [...waiting.value, note]
    remember()
    const how = new Promise<Sent>((resolve) => settling.set(note.edit_id, resolve))
    void send()
    return how
  }

  function settled(edit: Waiting, how: Sent) {
    settling.get(edit.edit_id)?.(how)
    settling.delete(edit.edit_id)
  }

  /** Have the server do something that is an edit too, and show what it came to; false when it did not. */
  async function act(call: (home: string, body: Named) => Promise<Result>): Promise<boolean> {
    const home = state.value
    if (!home) return false
    try {
      await hear(await call(home.id, { edit_id: uniqueId(), judge: { ...pair.value }, since: kept?.rev ?? null }))
      return true
    } catch (error) {
      tell(error)
      return false
    }
  }

  /** Take a reading back; the next best one counts then. */
  function takeBack(reading: string) {
    const path = (home_id: string) => ({ params: { path: { home_id, reading_id: reading } } })
    return act((home, body) =>
      answer(api.POST('/api/homes/{home_id}/readings/{reading_id}/withdraw', { ...path(home), body })),
    )
  }

  async function send() {
    if (sending || turning.value || conflict.value) return
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
      const result = await post(home.id, next, pair.value, kept?.rev ?? null)
      done(next)
      settled(next, 'kept')
      // Edits made on the answered one were made knowing it.
      waiting.value = waiting.value.map((w) => ({ ...w, base_rev: result.news.rev }))
      offline.value = false
      await hear(result)
    } catch (error) {
      await sendFailed(next, error)
    }
  }

  async function sendFailed(next: Waiting, error: unknown) {
    if (error instanceof Unreachable) {
      offline.value = true
      for (const w of waiting.value) settled(w, 'later')
      await new Promise((resolve) => setTimeout(resolve, RETRY_MS))
    } else if (error instanceof Refused && error.body.kind === 'stale') {
      const changes = (error.body.changes ?? []) as { label: string; paths: string[] }[]
      const clash = changes.filter((c) => overlap(touched(next.ops), c.paths))
      const rebased = { ...next, base_rev: error.body.rev ?? next.base_rev }
      waiting.value = [rebased, ...waiting.value.slice(1)]
      if (clash.length) conflict.value = { mine: rebased, theirs: clash.map((c) => c.label) }
    } else {
      done(next)
      settled(next, 'refused')
      tell(error)
      await refresh()
    }
  }

  function done(edit: Waiting) {
    waiting.value = waiting.value.filter((w) => w.edit_id !== edit.edit_id)
    remember()
  }

  /** Answer a conflict: keep mine over theirs, or let theirs stand. */
  async function settle(keepMine: boolean) {
    const clash = conflict.value
    if (!clash) return
    if (!keepMine) done(clash.mine)
    conflict.value = null
    await refresh()
    void send()
  }

  async function turn(way: 'undo' | 'redo') {
    // An undo asked for while an edit is on its way means that edit.
    const busy = () => turning.value || (waiting.value.length > 0 && !offline.value && !conflict.value)
    while (busy()) await until(busy).toBe(false)
    const home = state.value
    if (!home || waiting.value.length || !home[way]) return
    turning.value = true
    pouring.value = true
    try {
      const params = { path: { home_id: home.id } }
      const body = { edit_id: uniqueId(), judge: { ...pair.value }, since: kept?.rev ?? null }
      const result = await answer(
        way === 'undo'
          ? api.POST('/api/homes/{home_id}/undo', { params, body })
          : api.POST('/api/homes/{home_id}/redo', { params, body }),
      )
      waiting.value = waiting.value.map((w) => ({ ...w, base_rev: result.news.rev }))
      await hear(result)
      if (!result.verdict) await judge()
    } catch (error) {
      tell(error)
    } finally {
      turning.value = false
      pouring.value = false
      void send()
    }
  }

  const undo = () => turn('undo')
  const redo = () => turn('redo')

  /** Look at another pair of plan and outage. */
  async function choose(next: Partial<typeof pair.value>) {
    // What was only just made is not asked about before the server has it.
    const making = () => waiting.value.length > 0 && !offline.value && !conflict.value
    while (making()) await until(making).toBe(false)
    pair.value = { ...pair.value, ...next }
    const home = state.value
    if (home) localStorage.setItem(pairKey(home.id), JSON.stringify(pair.value))
    await judge()
  }

  function step(list: { id: string }[], now: string, by: number): string {
    const at = list.findIndex((x) => x.id === now)
    return list[(at + by + list.length) % list.length]?.id ?? now
  }

  const stepPlan = (by: number) => choose({ plan: step(state.value?.plans ?? [], pair.value.plan, by) })
  const stepOutage = (by: number) => choose({ outage: step(state.value?.outages ?? [], pair.value.outage, by) })

  const home = computed(() => state.value?.home ?? null)
  const plan: ComputedRef<Plan | null> = computed(
    () => state.value?.plans.find((p) => p.id === pair.value.plan) ?? null,
  )
  const outage: ComputedRef<Outage | null> = computed(
    () => state.value?.outages.find((o) => o.id === pair.value.outage) ?? null,
  )

  return {
    state,
    home,
    plan,
    outage,
    pair,
    verdict,
    waiting,
    offline,
    problem,
    conflict,
    pouring,
    served,
    station,
    heard,
    noteGauge,
    open,
    close,
    edit,
    noteReading,
    act,
    takeBack,
    settle,
    undo,
    redo,
    choose,
    stepPlan,
    stepOutage,
  }
})

const store = () => useSessionStore(pinia)

/** The open home and its verdict, to read. */
export function useSession() {
  return storeToRefs(store())
}

type Store = ReturnType<typeof useSessionStore>
export const open = (...of: Parameters<Store['open']>) => store().open(...of)
export const close = () => store().close()
export const edit = (...of: Parameters<Store['edit']>) => store().edit(...of)
export const noteReading = (...of: Parameters<Store['noteReading']>) => store().noteReading(...of)
export const noteGauge = (...of: Parameters<Store['noteGauge']>) => store().noteGauge(...of)
export const heard = (...of: Parameters<Store['heard']>) => store().heard(...of)
export const act = (...of: Parameters<Store['act']>) => store().act(...of)
export const takeBack = (...of: Parameters<Store['takeBack']>) => store().takeBack(...of)
export const settle = (...of: Parameters<Store['settle']>) => store().settle(...of)
export const undo = () => store().undo()
export const redo = () => store().redo()
export const choose = (...of: Parameters<Store['choose']>) => store().choose(...of)
export const stepPlan = (by: number) => store().stepPlan(by)
export const stepOutage = (by: number) => store().stepOutage(by)
