import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { Move, Run } from '@/shared/api/types'
import { click, mount, saying, text, texts } from '@/testing/mount'
import { verdict } from '@/testing/samples'
import MomentBar from './components/MomentBar.vue'
import MoveTable from './components/MoveTable.vue'
import { clockAfter, momentOf } from './moment'

const session = vi.hoisted(() => ({ edit: vi.fn() }))
vi.mock('@/shared/session/session', async (original) => ({ ...(await original<object>()), ...session }))
beforeEach(() => session.edit.mockClear())

const run = {
  start: '2026-11-24T17:00:00-08:00', shown_h: 20, dark_h: 10, back_h: [12], nominal_wh: 5000, hour: [0, 10, 20],
  charge: [1, 0.1, 0.3], low: [1, 0, 0.2], high: [1, 0.2, 0.4], sun: [0, 300, 0], engine: [{ from_h: 13, to_h: 14 }],
  strips: [
    { feed: 'a', name: 'Refrigerator', pieces: [{ from_h: 0, to_h: 10, w: 58 }, { from_h: 12, to_h: 20, w: 58 }] },
    { feed: 'b', name: 'Reef', pieces: [{ from_h: 0, to_h: 2, w: 120 }] },
  ],
} as unknown as Run // prettier-ignore

describe('a moment of a run', () => {
  it('tells the clock past midnight', () => {
    expect(clockAfter(run.start, 8.25)).toBe('Wed 1:15 am')
  })
  it.each([
    [1, { charge: 0.91, total: 178, dark: false, sun: 0, engine: false }],
    [11, { charge: 0.12, total: 0, dark: true, sun: 300, engine: false }],
    [13.5, { total: 58, dark: false, engine: true }],
  ])('at %s h', (at, expected) => {
    const found = momentOf(run, at)
    for (const [key, value] of Object.entries(expected)) {
      const seen = found[key as keyof typeof found]
      if (typeof value === 'number') expect(seen).toBeCloseTo(value, 6)
      else expect(seen).toBe(value)
    }
  })
  it('orders what is fed by its draw', () => {
    expect(momentOf(run, 1).fed.map((f) => f.name)).toEqual(['Reef', 'Refrigerator'])
  })
  it('stands in words under the slider', () => {
    mount(MomentBar, { run, modelValue: 11 })
    expect(text('.moment')).toContain('Wed 4:00 am')
    expect(text('.moment')).toContain('off')
    mount(MomentBar, { run, modelValue: 13.5 })
    expect(text('.moment')).toContain('generator runs')
  })
})

const move = (id: string, hours: number, price: string | null, more: Partial<Move> = {}): Move => ({
  id, kind: 'widening', label: id, hours: 30, hours_gained: hours, never_dark: false, clears: false, after: null, unit: '',
  price, currency: 'USD', per_100: price ? (100 * hours) / Number(price) : null, enter: '', ops: [], ...more,
}) // prettier-ignore

describe('all that would lengthen it', () => {
  const moves = [move('large', 9, '3000'), move('small', 4, '500'), move('rest', 1, null)]
  it('is ordered by hours, or by hours for the money with what costs nothing first', async () => {
    mount(MoveTable, { verdict: verdict({ moves }) })
    expect(texts('th')).toEqual(['large', 'small', 'rest'])
    saying('for the money').click()
    await Promise.resolve()
    expect(texts('th')).toEqual(['rest', 'small', 'large'])
    await click('tbody .btn')
    expect(session.edit).toHaveBeenCalledWith('rest', [], true)
  })
  it('says nothing where only fixes are known', () => {
    mount(MoveTable, { verdict: verdict({ moves: [move('fix', 0, null, { kind: 'fix' })] }) })
    expect(texts('tr')).toEqual([])
  })
})
