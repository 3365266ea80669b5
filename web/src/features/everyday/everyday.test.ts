import { offerLines } from './offerLines'
import { tariffOf } from './tariffShapes'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { EverydayPolicy, Tariff } from '@/shared/api/types'
import { click, mount, texts } from '@/testing/mount'
import { circuit, home, homeState } from '@/testing/samples'
import { useSession } from '@/shared/session/session'
import CircuitHours from './components/CircuitHours.vue'
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

describe('circuits off at set hours', () => {
  const row = {
    id: 'w',
    off: [{ start_h: 17, end_h: 21, days: 'weekday' as const }],
    later: true,
    by: 'itself' as const,
  }
  it('are named, say whether their loads catch up, and go with their last window', async () => {
    useSession().state.value = homeState(1, { home: home([circuit('w', [1], { name: 'Water heater' })], []) })
    const change = vi.fn()
    mount(CircuitHours, { circuits: { w: row }, onChange: change })
    expect(texts('article')[0]).toContain('Water heater is off')
    await click('article .el-checkbox input')
    expect(change).toHaveBeenLastCalledWith('Water heater: not used later', { w: { ...row, later: false } })
    await click('article .link')
    expect(change).toHaveBeenLastCalledWith('Water heater: on at all hours', {})
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

describe('an offer that is pasted', () => {
  it.each([
    ['Station 4,100', 'Station', 4100],
    ['2 × module: 1 850,50', '2 × module', 1850.5],
    ['Labour, two days USD 1,200.00', 'Labour, two days', 1200],
    ['Two days of work: 900', 'Two days of work', 900],
    ['Delivery €40', 'Delivery', 40],
    ['Permit = 140 USD', 'Permit', 140],
  ])('%s', (row, name, sum) => {
    const read = offerLines(row)
    expect(read.why).toBe('')
    expect(read.lines).toHaveLength(1)
    expect(read.lines[0]!.sum).toBe(sum)
    expect(read.lines[0]!.name).toBe(name)
  })
  it('takes nothing where a line has no amount, and names that line', () => {
    expect(offerLines('Station 4,100\nas discussed').why).toContain('“as discussed”')
    expect(offerLines('Station 4,100\nas discussed').lines).toEqual([])
    expect(offerLines('  ').why).toContain('Paste')
  })
})

describe('a tariff from a bill', () => {
  const said = { id: 't', name: 'T', since: '2026-01-01', price: 0.3, other: 0.1, above: 300, fixed: 9 }
  const window = { start_h: 23, end_h: 6, days: 'all' as const }
  it.each(['one', 'night', 'peak', 'tiers'] as const)('%s has one rate for all hours that no other covers', (shape) => {
    const made = tariffOf(shape, { ...said, window })
    const rates = Object.values(made.rates)
    expect(rates.filter((r) => !r.windows?.length)).toHaveLength(1)
    expect(rates).toHaveLength(shape === 'night' || shape === 'peak' ? 2 : 1)
    expect(made.tiers).toEqual(shape === 'tiers' ? [{ above_kwh: 300, more: 0.1 }] : [])
    expect(made.fixed).toBe(9)
  })
})
