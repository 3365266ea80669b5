import { computed, ref, shallowRef, type WritableComputedRef } from 'vue'
import type { HomeState, Op, Outage, Plan } from '../api/types'
import type { HomeServer } from './homeServer'
import { HomeSession } from './homeSession'
import type { GaugeLine, NewReading, Sent } from './waitingEdits'

/** The homes of one page: one is open, others that were left may still be sending what waits. */
export function pageSession(server: HomeServer, storage: Storage) {
  const current = shallowRef<HomeSession | null>(null)
  const offline = ref(false)
  const problem = ref('')
  const left = new Map<string, HomeSession>()

  function tell(session: HomeSession, sentence: string) {
    const name = session.state.value?.home.name
    problem.value = session === current.value || !name ? sentence : `${name}: ${sentence}`
  }
  const page = { server, storage, offline, tell }

  /** Open a home; throws Refused where there is none. */
  async function open(home: string, plan?: string, outage?: string) {
    if (current.value?.id === home) return
    close()
    const session = left.get(home) ?? new HomeSession(home, page)
    left.delete(home)
    current.value = session
    problem.value = ''
    try {
      await session.load(plan, outage)
    } catch (error) {
      if (current.value === session) current.value = null
      throw error
    }
    if (current.value === session && !document.hidden) session.listen()
  }

  function close() {
    const session = current.value
    if (!session) return
    session.unlisten()
    session.station.value = null
    current.value = null
    if (!session.idle) left.set(session.id, session)
  }

  /** Give up the stream of events while the tab is hidden: a browser keeps few connections to one server. */
  function tabSeen(hidden: boolean) {
    const session = current.value
    session?.unlisten()
    if (!session?.state.value || hidden) return
    session.listen()
    void session.refresh()
  }

  /** A field of the open home's session; what is written while no home is open stays here until one is. */
  function field<T>(of: (session: HomeSession) => { value: T }, none: T): WritableComputedRef<T> {
    const apart = shallowRef<T>(none)
    return computed({
      get: () => (current.value ? of(current.value).value : apart.value),
      set: (value) => {
        if (current.value) of(current.value).value = value
        else apart.value = value
      },
    })
  }

  const state = field<HomeState | null>((s) => s.state, null)
  const pair = field((s) => s.pair, { plan: '', outage: '' })
  const home = computed(() => state.value?.home ?? null)
  const plan = computed<Plan | null>(() => state.value?.plans.find((p) => p.id === pair.value.plan) ?? null)
  const outage = computed<Outage | null>(() => state.value?.outages.find((o) => o.id === pair.value.outage) ?? null)

  function edit(label: string, ops: Op[], trial = false) {
    problem.value = ''
    current.value?.edit(label, ops, trial)
  }

  function noteReading(reading: NewReading) {
    problem.value = ''
    current.value?.noteReading(reading)
  }

  async function noteGauge(line: GaugeLine): Promise<Sent> {
    problem.value = ''
    return current.value ? await current.value.noteGauge(line) : 'refused'
  }

  const act: HomeSession['act'] = async (call) => (current.value ? await current.value.act(call) : false)
  const settle = async (keepMine: boolean) => await current.value?.settle(keepMine)
  const undo = async () => await current.value?.turn('undo')
  const redo = async () => await current.value?.turn('redo')
  const choose: HomeSession['choose'] = async (next) => await current.value?.choose(next)

  function step(list: { id: string }[], now: string, by: number): string {
    const at = list.findIndex((x) => x.id === now)
    return list[(at + by + list.length) % list.length]?.id ?? now
  }
  const stepPlan = (by: number) => choose({ plan: step(state.value?.plans ?? [], pair.value.plan, by) })
  const stepOutage = (by: number) => choose({ outage: step(state.value?.outages ?? [], pair.value.outage, by) })

  return {
    fields: {
      state,
      home,
      plan,
      outage,
      pair,
      problem,
      offline,
      verdict: field((s) => s.verdict, null),
      waiting: field((s) => s.waiting, []),
      conflict: field((s) => s.conflict, null),
      pouring: field((s) => s.pouring, false),
      served: field((s) => s.served, 0),
      station: field((s) => s.station, null),
    },
    acts: {
      open,
      close,
      tabSeen,
      edit,
      noteReading,
      noteGauge,
      act,
      settle,
      undo,
      redo,
      choose,
      stepPlan,
      stepOutage,
      heard: (...of: Parameters<HomeSession['heard']>) => current.value?.heard(...of),
    },
  }
}
