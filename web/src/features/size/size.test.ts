import { beforeEach, describe, expect, it, vi } from 'vitest'
import { nextTick } from 'vue'
import type { BuyView, FrontierView, SchoolAnswer, SizeView } from '@/shared/api/types'
import { useSession } from '@/shared/session/session'
import { click, mount, saying, text, texts } from '@/testing/mount'
import { homeState, plan } from '@/testing/samples'
import FrontierPanel from './components/FrontierPanel.vue'
import LoadCosts from './components/LoadCosts.vue'
import NightList from './components/NightList.vue'
import SchoolTable from './components/SchoolTable.vue'

const wire = vi.hoisted(() => ({ POST: vi.fn(), GET: vi.fn(), DELETE: vi.fn(), edit: vi.fn() }))
vi.mock('@/shared/api/client', () => ({ api: wire, answer: (x: unknown) => Promise.resolve(x) }))
vi.mock('@/shared/session/session', async (original) => ({ ...(await original<object>()), edit: wire.edit }))
vi.mock('./components/FrontierChart.vue', () => ({ __esModule: true, default: { render: () => null } }))

const way = (name: string, more: Partial<BuyView> = {}): BuyView => ({
  name, stored_wh: 3300, panels: '', price: '2250', low_h: 9, reaches: false, room: 3, within: true, beaten_by: '', may_trip: false, ops: [],
  ...more,
}) // prettier-ignore
const found: FrontierView = {
  best: [way('Small'), way('Large', { price: '9000', low_h: null, reaches: true, room: 0, within: false })],
  beaten: [way('Odd', { beaten_by: 'Small' })],
  reach: way('Large', { price: '9000' }), for_budget: way('Small'), tried: 40, misfit: 12, horizon_h: 72, goal_h: 48,
  currency: 'USD',
} // prettier-ignore
const job = (state: string, more = {}) => ({ id: 'j', state, part: 0.4, problem: '', result: null, ...more })
async function settle() {
  for (let i = 0; i < 6; i++) await nextTick()
}

beforeEach(() => {
  vi.useFakeTimers()
  for (const f of Object.values(wire)) f.mockReset()
  const s = useSession()
  s.state.value = homeState(1)
  s.pair.value = { plan: 'p', outage: 'o' }
  s.problem.value = ''
})

describe('the night list', () => {
  const night = { from_h: 22, to_h: 7, loads: ['fan', 'lamp'], told_w: null, told_wh: null }
  const line = (load: string, without: (number | null)[], powered = true) => ({ load, name: load, run_w: 50, wh: 450, powered, without }) // prettier-ignore
  const sum = {
    length_h: 9, together_w: 100, average_w: 100, wh: 900, stations: [], says: ['You were told 90 W.'],
    lines: [line('fan', [12]), line('lamp', [null], false)],
  } // prettier-ignore
  it('shows each load with the hours without it, and takes one off', async () => {
    const change = vi.fn()
    mount(NightList, { night, sum, says: '100 W on average.', onChange: change })
    expect(texts('tbody tr')[0]).toContain('12 h')
    expect(texts('tbody tr')[1]).toContain('not powered by this plan')
    expect(texts('tbody tr')[1]).toContain('nothing else in the list')
    expect(text('[data-test=told]')).toBe('You were told 90 W.')
    await click('[aria-label="Take fan off the night list"]')
    expect(change).toHaveBeenCalledWith({ ...night, loads: ['lamp'] }, 'Night list: without fan')
  })
  it('asks for loads while it is empty', () => {
    mount(NightList, { night: { ...night, loads: [] }, sum: null, says: '' })
    expect(text('.soft')).toContain('Add the loads that run through the night')
  })
})

describe('what to buy', () => {
  const begin = async (budget: number | null = null) => {
    wire.POST.mockReturnValue(job('running'))
    mount(FrontierPanel, { budget, plan: plan() })
    saying('Run everything').click()
    await settle()
  }
  it('is followed by its progress, and told in a sentence', async () => {
    await begin(4000)
    expect(wire.POST.mock.calls[0]![1]).toMatchObject({ params: { query: { plan: 'p', outage: 'o', budget: 4000 } } })
    expect(document.querySelector('progress')!.value).toBe(0.4)
    wire.GET.mockReturnValue(job('done', { part: 1, result: found }))
    await vi.advanceTimersByTimeAsync(300)
    await settle()
    expect(text('.say')).toContain('The cheapest that reaches 48 h 9 times in 10 is Large, 9,000 USD to buy.')
    expect(text('.say')).toContain('For 4,000 USD the longest is Small: 9 h.')
    expect(texts('tbody tr')[1]).toContain('over 72 h')
    expect(texts('tbody tr')[1]).toContain('full')
    expect(text('details li')).toContain('beaten by Small')
    await click('[aria-label="Take Small"]')
    expect(wire.edit).toHaveBeenCalledWith('Buy: Small', [])
  })
  it('says when nothing reaches, and when the budget buys nothing', async () => {
    await begin(100)
    wire.GET.mockReturnValue(job('done', { result: { ...found, reach: null, for_budget: null } }))
    await vi.advanceTimersByTimeAsync(300)
    await settle()
    expect(text('.say')).toContain('Nothing in the catalogue reaches 48 h')
    expect(text('.say')).toContain('Nothing that fits costs 100 USD or less.')
  })
  it('is stopped, and forgotten when the plan changes', async () => {
    await begin()
    saying('Stop').click()
    await settle()
    expect(wire.DELETE).toHaveBeenCalledTimes(1)
    expect(document.querySelector('progress')).toBeNull()
    await begin()
    useSession().served.value += 1
    await settle()
    expect(document.querySelector('progress')).toBeNull()
  })
  it('tells what went wrong', async () => {
    await begin()
    wire.GET.mockReturnValue(job('failed', { problem: 'The disk is full.' }))
    await vi.advanceTimersByTimeAsync(300)
    await settle()
    expect(useSession().problem.value).toBe('The disk is full.')
  })
})

it('lays each school beside the simulated need', () => {
  const schools = [
    { part: 'inverter', name: 'Simulated', value: 4143, unit: 'W', how: 'What runs.', misleads: '', beside: '' },
    {
      part: 'inverter',
      name: 'All at once',
      value: 5863,
      unit: 'W',
      how: 'All.',
      misleads: 'Never.',
      beside: '1.4 times',
    },
    { part: 'battery', name: 'Simulated', value: null, unit: 'Wh', how: 'None reaches.', misleads: '', beside: '' },
    { part: 'battery', name: 'Bill', value: 74_600, unit: 'Wh', how: 'Two.', misleads: 'Much.', beside: '' },
  ] as SchoolAnswer[]
  mount(SchoolTable, { schools })
  expect(texts('th')).toEqual(['Inverter', 'Battery'])
  expect(texts('.num')).toEqual(['4,143 W', '5,863 W', 'none', '74.6 kWh'])
  expect(texts('.sim')).toHaveLength(2)
})

describe('what each load takes', () => {
  const loads = Array.from({ length: 8 }, (_, i) => ({
    load: `l${i}`, name: `Load ${i}`, mean_w: 100 - i, hours: 8 - i, never_dark: i === 0,
  })) as SizeView['loads'] // prettier-ignore
  it('leads with the largest, and shows all when asked', async () => {
    mount(LoadCosts, { loads, goesDark: true })
    expect(texts('li')).toHaveLength(6)
    expect(texts('li')[0]).toContain('8 h or more')
    await click('.link')
    expect(texts('li')).toHaveLength(8)
  })
  it('says so where none does', () => {
    mount(LoadCosts, { loads: [], goesDark: false })
    expect(text('p')).toContain('never runs out')
  })
})
