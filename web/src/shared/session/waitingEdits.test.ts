import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { Waiting } from './waitingEdits'
import { monthsText, parseMonths } from '../units/months'

const pair = { plan: 'p', outage: 'o' }
const waiting = (more: Partial<Waiting>): Waiting => ({ edit_id: 'e1', label: 'L', ops: [], base_rev: 3, ...more })
const seen: { url: string; body: Record<string, unknown> }[] = []

class LocalRequest extends Request {
  constructor(url: string | URL | Request, init?: RequestInit) {
    super(typeof url === 'string' ? new URL(url, 'http://localhost') : url, init)
  }
}

/** The client takes what sends as it is loaded. */
const sending = async () => (await import('./waitingEdits')).post

beforeEach(() => {
  vi.resetModules()
  seen.splice(0)
  vi.stubGlobal('Request', LocalRequest)
  vi.stubGlobal('fetch', async (request: Request) => {
    seen.push({ url: new URL(request.url).pathname, body: (await request.json()) as Record<string, unknown> })
    return new Response('{}', { status: 200, headers: { 'content-type': 'application/json' } })
  })
})
afterEach(() => vi.unstubAllGlobals())

describe('what waits goes where its kind belongs', () => {
  it('an edit, with the pair to judge and whether it only tries something', async () => {
    const ops = [{ doc: 'p', op: 'replace', path: '/floor', value: 0.2 }] as Waiting['ops']
    const post = await sending()
    await post('h', waiting({ ops }), pair, 2)
    await post('h', waiting({ ops, trial: true }), { plan: '', outage: '' }, null)
    expect(seen.map((s) => s.url)).toEqual(['/api/homes/h/edits', '/api/homes/h/edits'])
    expect(seen[0]?.body).toMatchObject({ edit_id: 'e1', base_rev: 3, since: 2, trial: false, judge: pair, ops })
    expect(seen[1]?.body).toMatchObject({ trial: true, since: null })
    expect(seen[1]?.body.judge).toBeUndefined()
  })
  it('a reading, on whatever revision there is', async () => {
    const post = await sending()
    await post('h', waiting({ reading: { text: '950 W', load: 'kettle' } }), pair, 2)
    expect(seen[0]?.url).toBe('/api/homes/h/readings')
    expect(seen[0]?.body).toMatchObject({
      edit_id: 'e1',
      text: '950 W',
      load: 'kettle',
      season: 'any',
      side: 'appliance',
    })
    expect(seen[0]?.body.base_rev).toBeUndefined()
  })
  it('a line at a gauge, with the time at which it was written', async () => {
    const gauge = { text: '64%', source: 'main', at: '2026-11-24T20:00:00' }
    const post = await sending()
    await post('h', waiting({ gauge }), pair, 2)
    expect(seen[0]).toEqual({ url: '/api/homes/h/live/notes', body: { ...pair, edit_id: 'e1', ...gauge } })
  })
})

describe('months', () => {
  it('come back as they were written', () => {
    for (let a = 1; a <= 12; a++)
      for (let b = 1; b <= 12; b++) {
        const months = parseMonths(`${a}-${b}`) ?? []
        const again = parseMonths(monthsText(months)) ?? []
        expect(again.length ? [...again].sort() : [...Array(12).keys()].map((m) => m + 1).sort()).toEqual(
          [...months].sort(),
        )
      }
  })
})
