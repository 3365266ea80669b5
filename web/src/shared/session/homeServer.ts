import { answer, api } from '../api/client'
import type { HomeNews, HomeState, Verdict, WatchView } from '../api/types'
import { post, type Pair, type Waiting } from './waitingEdits'

/** What the server answers to an edit: what changed, and the verdict on the pair that was asked about. */
export interface EditAnswer {
  news: HomeNews
  verdict: Verdict | null
  problem: string
}

export interface TurnBody {
  edit_id: string
  /** The edit that is to be undone or redone; the server refuses when another one came in between. */
  takes: string | null
  judge: Pair
  since: number | null
}

export interface Listeners {
  revision: (rev: number) => void
  station: (view: WatchView) => void
  lost: () => void
  back: () => void
}

/** All that a session asks of the server, so that tests can put a simulated one in its place. */
export interface HomeServer {
  fetchHome(home: string): Promise<HomeState>
  judge(home: string, pair: Pair): Promise<Verdict>
  post(home: string, edit: Waiting, pair: Pair, since: number | null): Promise<EditAnswer>
  turn(home: string, way: 'undo' | 'redo', body: TurnBody): Promise<EditAnswer>
  /** Hear of changes made elsewhere; returns what ends it. */
  listen(home: string, listeners: Listeners): () => void
  /** Wait before asking again a server that did not answer. */
  pause(): Promise<void>
}

const RETRY_MS = 1500
const LOST_MS = 1200

export const realServer: HomeServer = {
  async fetchHome(home) {
    const path = { home_id: home }
    return await answer(api.GET('/api/homes/{home_id}', { params: { path } }))
  },

  async judge(home, { plan, outage }) {
    const params = { path: { home_id: home }, query: { plan, outage } }
    return await answer(api.GET('/api/homes/{home_id}/verdict', { params }))
  },

  post,

  async turn(home, way, body) {
    const params = { path: { home_id: home } }
    return await answer(
      way === 'undo'
        ? api.POST('/api/homes/{home_id}/undo', { params, body })
        : api.POST('/api/homes/{home_id}/redo', { params, body }),
    )
  },

  listen(home, { revision, station, lost, back }) {
    const events = new EventSource(`/api/homes/${encodeURIComponent(home)}/events`)
    const data = (event: Event) => JSON.parse((event as MessageEvent<string>).data) as unknown
    events.addEventListener('rev', (event) => revision((data(event) as { rev: number }).rev))
    events.addEventListener('station', (event) => station(data(event) as WatchView))
    // The stream reconnects by itself. Until it does, waiting alone would never show that the server has stopped.
    events.onerror = () =>
      window.setTimeout(() => {
        if (events.readyState === EventSource.CONNECTING) lost()
      }, LOST_MS)
    events.onopen = back
    return () => events.close()
  },

  pause: () => new Promise((resolve) => setTimeout(resolve, RETRY_MS)),
}
