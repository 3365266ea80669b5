import { onUnmounted, ref, shallowRef, type Ref, type ShallowRef } from 'vue'
import { answer, api } from '@/shared/api/client'
import type { Home, KeptChannel, LogView } from '@/shared/api/types'
import { followJob, stopJob } from '@/shared/job'
import { act, useSession } from '@/shared/session/session'

/** Where a channel belongs; with neither load nor circuit nor home it is not kept. */
export interface Mapping {
  load: string
  circuit: string
  home: '' | 'home'
  side: NonNullable<KeptChannel['side']>
  setting: string
  season: NonNullable<KeptChannel['season']>
}

/** The decimal mark of a file's numbers, where the guess is wrong. */
export type Decimal = 'guess' | 'comma' | 'point'
export type Clock = 'home' | 'standard' | 'utc'

/** What a channel's name says it is: the load, else the circuit, whose name shares most words with it. */
export function guess(home: Home, channel: string): Mapping {
  const words = channel.toLowerCase().split(/[^\p{L}]+/u)
  const score = (name: string) =>
    name
      .toLowerCase()
      .split(/\s+/)
      .filter((w) => w.length > 2 && words.includes(w)).length
  const best = (list: { id: string; name: string }[]) =>
    list.map((x) => ({ id: x.id, score: score(x.name) })).sort((a, b) => b.score - a.score)[0]
  const load = best(Object.values(home.loads))
  const circuit = best(Object.values(home.circuits))
  const plain = {
    load: '',
    circuit: '',
    home: '' as const,
    side: 'appliance' as const,
    setting: '',
    season: 'any' as const,
  }
  if (circuit && circuit.score > (load?.score ?? 0)) return { ...plain, circuit: circuit.id }
  return { ...plain, load: load && load.score > 0 ? load.id : '' }
}

export function kept(mappings: Record<string, Mapping>): KeptChannel[] {
  return Object.entries(mappings)
    .filter(([, m]) => m.load || m.circuit || m.home)
    .map(([channel, m]) => ({
      channel,
      load: m.load || null,
      circuit: m.circuit || null,
      side: m.side,
      setting: m.setting,
      season: m.season,
    }))
}

export interface ImportJob {
  part: Ref<number | null>
  problem: Ref<string>
  log: ShallowRef<LogView | null>
  start: (file: File, clock: Clock, decimal?: Decimal) => Promise<void>
  stop: () => Promise<void>
  keep: (channels: KeptChannel[]) => Promise<boolean>
  /** The job that read the file. */
  jobId: () => string
}

/** Send a file, follow the job that reads it, stop it, keep channels of it. */
export function useImport(): ImportJob {
  const { state } = useSession()
  const part = ref<number | null>(null)
  const problem = ref('')
  const log = shallowRef<LogView | null>(null)
  let job = ''
  let sending: AbortController | null = null

  async function start(file: File, clock: Clock, decimal: Decimal = 'guess') {
    problem.value = ''
    log.value = null
    part.value = 0
    sending = new AbortController()
    try {
      const init = {
        params: { path: { home_id: state.value?.id ?? '' }, query: { name: file.name, clock, decimal } },
        body: file as never,
        bodySerializer: (b: unknown) => b as never,
        signal: sending.signal,
      }
      await follow((await answer(api.POST('/api/homes/{home_id}/logs', init))).id)
    } catch (error) {
      problem.value = sending?.signal.aborted
        ? 'Stopped. Nothing was saved.'
        : error instanceof Error
          ? error.message
          : String(error)
    } finally {
      part.value = null
    }
  }
  async function follow(id: string) {
    job = id
    await followJob(
      () => answer(api.GET('/api/jobs/{job_id}', { params: { path: { job_id: id } } })),
      (seen) => {
        part.value = seen.part
        if (seen.state === 'done') log.value = seen.log as LogView
        if (seen.state === 'failed') problem.value = seen.problem
        if (seen.state === 'stopped') problem.value = 'Stopped. Nothing was saved.'
        return true
      },
    )
  }
  async function stop() {
    sending?.abort()
    if (job) await stopJob(job)
    job = ''
  }
  const keep = (channels: KeptChannel[]) =>
    act((home_id, body) =>
      answer(
        api.POST('/api/homes/{home_id}/series', { params: { path: { home_id } }, body: { ...body, job, channels } }),
      ),
    )
  onUnmounted(() => void stop())
  return { part, problem, log, start, stop, keep, jobId: () => job }
}
