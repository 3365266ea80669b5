import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { homeState, verdict } from '@/testing/samples'
import type { HomeState, Op } from '../api/types'

const turns = ({ undo, redo, undo_edit, redo_edit }: HomeState) => ({ undo, redo, undo_edit, redo_edit })

/** A server that keeps a revision, refuses stale edits, and can be away; enough to drive the queue. */
class Server {
  state: HomeState = homeState(1)
  away = false
  seen: { url: string; body: Record<string, unknown> }[] = []
  refuse: Record<string, unknown> | null = null
  changes: { label: string; rev: number; paths: string[] }[] = []

  fetch = async (request: Request): Promise<Response> => {
    if (this.away) throw new TypeError('no route')
    const url = new URL(request.url)
    if (request.method === 'GET') {
      return this.answer(url.pathname.endsWith('/verdict') ? verdict({ hours: this.state.rev }) : this.state)
    }
    const body = (await request.json()) as Record<string, unknown>
    this.seen.push({ url: url.pathname, body })
    if (this.refuse) {
      const refused = this.refuse
      this.refuse = null
      return this.answer(refused, 422)
    }
    if (url.pathname.endsWith('/edits') && body.base_rev !== this.state.rev) {
      const since = this.changes.filter((c) => c.rev > Number(body.base_rev))
      return this.answer({ kind: 'stale', sentence: 'Stale.', rev: this.state.rev, changes: since }, 409)
    }
    this.state = {
      ...this.state,
      rev: this.state.rev + 1,
      undo: String(body.label ?? body.text ?? 'undone'),
      undo_edit: String(body.edit_id),
    }
    return this.answer({ news: this.news(body.since), verdict: verdict({ hours: this.state.rev }) })
  }

  /** Only the plans changed, for whoever has the revision before. */
  private news(since: unknown) {
    const s = this.state
    const known = since === s.rev - 1 ? since : 0
    const ids = { plan_ids: s.plans.map((p) => p.id), outage_ids: s.outages.map((o) => o.id) }
    const whole = { home: known ? null : s.home, plans: s.plans, outages: known ? [] : s.outages }
    return { id: s.id, rev: s.rev, since: known, ...whole, ...ids, ...turns(s), trial: s.trial }
  }

  private answer(body: unknown, status = 200) {
    return new Response(JSON.stringify(body), { status, headers: { 'content-type': 'application/json' } })
  }
}

class QuietEvents {
  static last: QuietEvents
  listeners: Record<string, (e: MessageEvent<string>) => void> = {}
  constructor() {
    QuietEvents.last = this
  }
  addEventListener(name: string, call: (e: MessageEvent<string>) => void) {
    this.listeners[name] = call
  }
  close() {
    this.listeners = {}
  }
}

class LocalRequest extends Request {
  constructor(url: string | URL | Request, init?: RequestInit) {
    super(typeof url === 'string' ? new URL(url, 'http://localhost') : url, init)
  }
}

const op: Op[] = [{ doc: 'p', op: 'replace', path: '/floor', value: 0.2 }]
let server: Server

async function fresh() {
  vi.resetModules()
  const module = await import('./session')
  return { ...module, ...module.useSession() }
}
const waitingKeys = () => Object.keys(localStorage).filter((key) => key.startsWith('imbuto.waiting.h/'))
const settled = () => vi.waitFor(() => undefined)

beforeEach(() => {
  vi.useFakeTimers({ shouldAdvanceTime: true })
  localStorage.clear()
  server = new Server()
  vi.stubGlobal('fetch', server.fetch)
  vi.stubGlobal('EventSource', QuietEvents)
  // Outside a browser a request needs a whole address.
  vi.stubGlobal('Request', LocalRequest)
})
afterEach(() => {
  vi.useRealTimers()
  vi.unstubAllGlobals()
})

describe('opening', () => {
  it('shows the home, picks the first pair and judges it', async () => {
    const s = await fresh()
    await s.open('h')
    expect(s.state.value?.rev).toBe(1)
    expect(s.pair.value).toEqual({ plan: 'p', outage: 'o' })
    expect(s.verdict.value?.hours).toBe(1)
  })

  it('comes back to the pair that was looked at last, if it is still there', async () => {
    localStorage.setItem('imbuto.pair.h', JSON.stringify({ plan: 'gone', outage: 'o' }))
    const s = await fresh()
    await s.open('h')
    expect(s.pair.value).toEqual({ plan: 'p', outage: 'o' })
  })

  it('fetches again when another tab has changed something', async () => {
    const s = await fresh()
    await s.open('h')
    server.state = { ...server.state, rev: 5, undo: 'Elsewhere' }
    QuietEvents.last.listeners.rev?.(new MessageEvent('rev', { data: '{"rev": 5}' }))
    await vi.waitFor(() => expect(s.state.value?.undo).toBe('Elsewhere'))
    expect(s.verdict.value?.hours).toBe(5)
  })
})

describe('editing', () => {
  it('shows an edit before it is answered, then takes the answer and its verdict', async () => {
    const s = await fresh()
    await s.open('h')
    s.edit('Floor 20%', op)
    expect(s.state.value?.plans[0]?.floor).toBe(0.2)
    expect(s.waiting.value).toHaveLength(1)
    await vi.waitFor(() => expect(s.waiting.value).toEqual([]))
    expect(s.verdict.value?.hours).toBe(2)
    expect(server.seen[0]?.body).toMatchObject({ label: 'Floor 20%', base_rev: 1, judge: { plan: 'p', outage: 'o' } })
  })

  it('sends edits in order, each on the revision the one before led to', async () => {
    const s = await fresh()
    await s.open('h')
    s.edit('one', op)
    s.edit('two', op)
    await vi.waitFor(() => expect(s.waiting.value).toEqual([]))
    expect(server.seen.map((x) => [x.body.label, x.body.base_rev])).toEqual([
      ['one', 1],
      ['two', 2],
    ])
  })

  it('keeps edits while the server is away, in the browser too, and sends them once it is back', async () => {
    const s = await fresh()
    await s.open('h')
    server.away = true
    s.edit('kept', op)
    await vi.waitFor(() => expect(s.offline.value).toBe(true))
    const kept = waitingKeys()
    expect(kept).toHaveLength(1)
    server.away = false
    await vi.advanceTimersByTimeAsync(2000)
    await vi.waitFor(() => expect(s.waiting.value).toEqual([]))
    expect(s.offline.value).toBe(false)
    expect(server.seen[0]?.body.edit_id).toBe(kept[0]?.split('/')[1])
    expect(waitingKeys()).toEqual([])
  })

  it('sends what an earlier visit left behind', async () => {
    const left = [{ edit_id: 'left', label: 'Left', ops: op, base_rev: 1 }]
    localStorage.setItem('imbuto.waiting.h', JSON.stringify(left))
    const s = await fresh()
    await s.open('h')
    await vi.waitFor(() => expect(server.seen.map((x) => x.body.edit_id)).toEqual(['left']))
  })

  it('tells a refusal, drops the edit and shows the home as it is', async () => {
    const s = await fresh()
    await s.open('h')
    server.refuse = { kind: 'invalid', sentence: 'Plan, floor: 2 can’t be used.' }
    s.edit('Floor', op)
    await vi.waitFor(() => expect(s.problem.value).toBe('Plan, floor: 2 can’t be used.'))
    await vi.waitFor(() => expect(s.state.value?.plans[0]?.floor).toBe(0.1))
    expect(s.waiting.value).toEqual([])
  })
})

describe('conflicts', () => {
  it('goes on by itself where the other change lies elsewhere', async () => {
    const s = await fresh()
    await s.open('h')
    server.state = { ...server.state, rev: 2 }
    server.changes = [{ label: 'Theirs', rev: 2, paths: ['home/name'] }]
    s.edit('Mine', op)
    await vi.waitFor(() => expect(s.waiting.value).toEqual([]))
    expect(s.conflict.value).toBeNull()
    expect(server.seen.map((x) => x.body.base_rev)).toEqual([1, 2])
  })

  it.each([
    [true, [1, 2]],
    [false, [1]],
  ])('asks where it is the same place; keep mine: %s', async (mine, sent) => {
    const s = await fresh()
    await s.open('h')
    server.state = { ...server.state, rev: 2 }
    server.changes = [{ label: 'Theirs', rev: 2, paths: ['p/floor'] }]
    s.edit('Mine', op)
    await vi.waitFor(() => expect(s.conflict.value?.theirs).toEqual(['Theirs']))
    await s.settle(mine)
    await vi.waitFor(() => expect(s.waiting.value).toEqual([]))
    await settled()
    expect(server.seen.map((x) => x.body.base_rev)).toEqual(sent)
  })
})

describe('undo, readings and stepping', () => {
  it('undoes the edit that is on its way, not the one before', async () => {
    server.state = { ...server.state, undo: 'Before', undo_edit: 'before' }
    const s = await fresh()
    await s.open('h')
    s.edit('Now', op)
    const undone = s.undo()
    await undone
    expect(server.seen.map((x) => x.url.split('/').pop())).toEqual(['edits', 'undo'])
  })

  it('an edit made while an undo is on its way waits for it, and does not clash with it', async () => {
    server.state = { ...server.state, undo: 'Before', undo_edit: 'before' }
    const s = await fresh()
    await s.open('h')
    const undone = s.undo()
    s.edit('After', op)
    await undone
    await vi.waitFor(() => expect(s.waiting.value).toEqual([]))
    expect(s.conflict.value).toBeNull()
    expect(server.seen.map((x) => [x.url.split('/').pop(), x.body.base_rev])).toEqual([
      ['undo', undefined],
      ['edits', 2],
    ])
  })

  it('does nothing where there is nothing to redo', async () => {
    const s = await fresh()
    await s.open('h')
    await s.redo()
    expect(server.seen).toEqual([])
  })

  it('notes a reading through the same queue, with an id', async () => {
    const s = await fresh()
    await s.open('h')
    s.noteReading({ text: '950 W', load: 'kettle' })
    await vi.waitFor(() => expect(s.waiting.value).toEqual([]))
    expect(server.seen[0]).toMatchObject({ url: '/api/homes/h/readings', body: { text: '950 W', load: 'kettle' } })
    expect(server.seen[0]?.body.edit_id).toBeTruthy()
  })

  it('steps round through plans and outages', async () => {
    server.state = homeState(1, { plans: [...server.state.plans, { ...server.state.plans[0]!, id: 'q' }] })
    const s = await fresh()
    await s.open('h')
    await s.stepPlan(1)
    expect(s.pair.value.plan).toBe('q')
    await s.stepPlan(1)
    expect(s.pair.value.plan).toBe('p')
    await s.stepOutage(-1)
    expect(s.pair.value.outage).toBe('o')
  })
})

describe('a line at a gauge', () => {
  const gauge = { text: '64 % 310 W', source: 'main', at: '2026-11-24T20:00:00' }

  it('is sent with its time, and kept', async () => {
    const s = await fresh()
    await s.open('h')
    await expect(s.noteGauge(gauge)).resolves.toBe('kept')
    expect(server.seen.at(-1)).toMatchObject({
      url: '/api/homes/h/live/notes',
      body: { ...gauge, plan: 'p', outage: 'o' },
    })
    expect(s.waiting.value).toEqual([])
  })

  it('is refused with the words of the server', async () => {
    const s = await fresh()
    await s.open('h')
    server.refuse = { kind: 'invalid', sentence: 'A percent is wanted.' }
    await expect(s.noteGauge(gauge)).resolves.toBe('refused')
    expect(s.problem.value).toBe('A percent is wanted.')
    expect(s.waiting.value).toEqual([])
  })

  it('waits while the server is away, survives the page, and goes out once', async () => {
    const s = await fresh()
    await s.open('h')
    server.away = true
    await expect(s.noteGauge(gauge)).resolves.toBe('later')
    expect(s.offline.value).toBe(true)
    expect(localStorage.getItem(waitingKeys()[0] ?? '')).toContain('64 % 310 W')
    server.away = false
    const again = await fresh()
    await again.open('h')
    await vi.waitFor(() => expect(again.waiting.value).toEqual([]))
    const sent = server.seen.filter((x) => x.url.endsWith('/live/notes'))
    expect(new Set(sent.map((x) => x.body.edit_id)).size).toBe(1)
    expect(sent[0]?.body.at).toBe(gauge.at)
  })
})

it('takes what a page holds as it will be sent, views of its own too', async () => {
  const s = await fresh()
  await s.open('h')
  const { reactive } = await import('vue')
  const own = reactive({ deep: [{ value: 0.3 }] })
  s.edit('from a view', [{ doc: 'p', op: 'replace', path: '/note', value: own.deep }])
  await vi.waitFor(() => expect(s.waiting.value).toEqual([]))
  expect(server.seen[0]?.body.ops).toEqual([{ doc: 'p', op: 'replace', path: '/note', value: [{ value: 0.3 }] }])
})

it('hears of a watched station, and that it was put away', async () => {
  const s = await fresh()
  await s.open('h')
  const say = (view: object) =>
    QuietEvents.last.listeners.station?.(new MessageEvent('station', { data: JSON.stringify(view) }))
  say({ on: true, at: '2026-11-24T20:00:00', speed: 60, charge: 0.5 })
  expect(s.station.value).toMatchObject({ on: true, speed: 60 })
  say({ on: false })
  expect(s.station.value).toBeNull()
})
