import { afterEach, describe, expect, it, vi } from 'vitest'
import { gettingReady, patient } from './client'

afterEach(() => vi.unstubAllGlobals())

describe('while the server is getting ready', () => {
  it('says so and asks again, with the same body', async () => {
    vi.useFakeTimers()
    const bodies: string[] = []
    let asked = 0
    vi.stubGlobal('fetch', async (request: Request) => {
      bodies.push(await request.text())
      asked += 1
      const body = asked < 3 ? { kind: 'getting_ready', sentence: 'Getting ready.' } : { id: 'a' }
      return new Response(JSON.stringify(body), { status: asked < 3 ? 503 : 200 })
    })
    const call = patient(new Request('http://localhost/api/homes/a/undo', { method: 'POST', body: '{"edit_id":"e"}' }))
    await vi.advanceTimersByTimeAsync(100)
    expect(gettingReady.value).toBe('Getting ready.')
    await vi.advanceTimersByTimeAsync(2000)
    await call
    expect(asked).toBe(3)
    expect(new Set(bodies)).toEqual(new Set(['{"edit_id":"e"}']))
    expect(gettingReady.value).toBe('')
    vi.useRealTimers()
  })
})
