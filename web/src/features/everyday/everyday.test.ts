import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { EverydayPolicy, Tariff } from '@/shared/api/types'
import { mount, texts } from '@/testing/mount'
import WeekStrip from './components/WeekStrip.vue'
import { STANDING, withHold } from './policy'

vi.mock('vue-echarts', () => ({ default: { render: () => null } }))

const policy: EverydayPolicy = { ...STANDING, hold: 0.4, resume: 0.5, refill: 0.45 }

describe('a hold that moves', () => {
  it.each([
    [0.6, 0.7, 0.65],
    [0.95, 1, 1],
    [0.2, 0.3, 0.25],
    [0.4, 0.5, 0.45],
  ])('to %d takes the marks above it along', (hold, resume, refill) => {
    const moved = withHold(policy, hold)
    expect(moved.hold).toBe(hold)
    expect(moved.resume).toBeCloseTo(resume)
    expect(moved.refill).toBeCloseTo(refill)
  })
  it('never leaves a mark under it', () => {
    for (let hold = 0; hold <= 1; hold += 0.05) {
      const moved = withHold(policy, hold)
      expect(moved.resume).toBeGreaterThanOrEqual(hold)
      expect(moved.refill).toBeGreaterThanOrEqual(hold)
      expect(moved.resume).toBeLessThanOrEqual(1)
    }
  })
})

const tariff = {
  id: 't',
  name: 'T',
  since: '2026-01-01',
  rates: {
    night: { id: 'night', name: 'Night', price: 0.1, windows: [{ start_h: 22, end_h: 6, days: 'all' }], months: [] },
    dear: {
      id: 'dear',
      name: 'Dear',
      price: 0.5,
      windows: [{ start_h: 17, end_h: 20, days: 'weekday' }],
      months: [1, 2],
    },
    rest: { id: 'rest', name: 'Rest', price: 0.2, windows: [], months: [] },
  },
} as unknown as Tariff

describe('a week of a tariff', () => {
  const titles = (month: number) => {
    mount(WeekStrip, { tariff, month })
    return [...document.querySelectorAll<HTMLElement>('.cells')].map((row) =>
      [...row.querySelectorAll<HTMLElement>('i')].map((x) => x.title),
    )
  }
  it('has a price for every half hour, past midnight too', () => {
    const [weekday, weekend] = titles(1)
    expect(weekday).toHaveLength(48)
    expect(weekday?.[0]).toContain('Night, 0.1')
    expect(weekday?.[46]).toContain('Night')
    expect(weekday?.[34]).toContain('Dear, 0.5')
    expect(weekend?.[34]).toContain('Rest, 0.2')
  })
  it('follows the month', () => {
    expect(titles(7)[0]?.[34]).toContain('Rest')
  })
  it('is told in words, and shows where there is no price', () => {
    const gap = { ...tariff, rates: { night: tariff.rates.night } } as unknown as Tariff
    mount(WeekStrip, { tariff: gap, month: 1 })
    expect(document.querySelector('figure')?.getAttribute('aria-label')).toBe('A week: Night 0.1')
    expect(document.querySelectorAll('.none')).toHaveLength(64)
    expect(texts('.row span')).toEqual(['weekdays', 'weekends'])
  })
  it('does not fall over a free or a negative price', () => {
    const free = { ...tariff, rates: { rest: { ...tariff.rates.rest, price: -0.05 } } } as unknown as Tariff
    mount(WeekStrip, { tariff: free, month: 1 })
    expect(document.querySelectorAll('.cells i')).toHaveLength(96)
  })
})

beforeEach(() => {
  document.body.innerHTML = ''
})
