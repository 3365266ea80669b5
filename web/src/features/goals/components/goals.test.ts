import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { GoalsView, HomeState, Op } from '@/shared/api/types'
import { foreseen } from '@/shared/session/patch'
import { useSession } from '@/shared/session/session'
import { click, mount, saying, submit, text, texts, type, choose } from '@/testing/mount'
import { home, homeState, load, outage, plan } from '@/testing/samples'
import AimForm from './AimForm.vue'
import HarmList from './HarmList.vue'
import HistoryForm from './HistoryForm.vue'
import PeopleList from './PeopleList.vue'
import SubstituteList from './SubstituteList.vue'
import ThingList from './ThingList.vue'

const session = vi.hoisted(() => ({ edit: vi.fn(), choose: vi.fn() }))
vi.mock('@/shared/session/session', async (original) => ({ ...(await original<object>()), ...session }))

const goals = (more: Partial<GoalsView> = {}): GoalsView => ({
  harms: [
    { harm: 'breathing', loads: ['oxygen'], kept: ['oxygen'] },
    { harm: 'food', loads: ['fridge', 'freezer'], kept: ['fridge'] },
    { harm: 'no_heat', loads: [], kept: [] },
  ],
  steps: [],
  nobody: '',
  blind_spots: [],
  substitutes: [],
  proposed: [],
  ...more,
})
const { state, pair, problem } = useSession()
/** What the last edit says, and the home after it. */
const last = () => session.edit.mock.lastCall as [string, Op[]]
const after = () => foreseen(state.value as HomeState, last()[1]).home.household

beforeEach(() => {
  session.edit.mockClear()
  session.choose.mockClear()
  problem.value = ''
  const loads = ['oxygen', 'fridge', 'freezer'].map((id) => load(id))
  const h = home([], loads)
  h.household.harms = ['food', 'breathing', 'no_heat']
  h.household.panel = { distance_m: null, height_m: null, route: '', wall: '', shelter: '' }
  h.household.history = { a_year: 0, shortest_h: 0, usual_h: 0, longest_h: 0, months: [11], note: '' }
  state.value = homeState(1, { home: h })
  pair.value = { plan: 'p', outage: 'o' }
})

describe('what must not happen', () => {
  it('ranks the picked ones, and says what the plan leaves off', () => {
    mount(HarmList, { goals: goals() })
    expect(texts('li')).toEqual([
      '1. Food spoils Freezer not kept on in “Plan”; Fridge kept on.',
      '2. A breathing aid, or other medical device, stops earlier Kept on in “Plan”: Oxygen.',
      '3. No heat earlier No load prevents this yet. Open a load and enter what happens without it.',
    ])
  })

  it('moves one earlier, and lets one go', async () => {
    mount(HarmList, { goals: goals({ blind_spots: ['Router isn’t kept on.'] }) })
    expect(text('section')).toContain('Router isn’t kept on.')
    saying('earlier').click()
    expect(after().harms).toEqual(['breathing', 'food', 'no_heat'])
    await click('li input')
    expect(after().harms).toEqual(['breathing', 'no_heat'])
    expect(last()[0]).toBe('May happen: food spoils')
  })
})

describe('what a plan is for', () => {
  it('is an edit of the plan', async () => {
    mount(AimForm, { home: home(), plan: plan([], { purpose: 'outages', runs_on: false, ending: 'grid' }) })
    await choose('a-end', 'a generator takes over')
    expect(last()).toEqual([
      'Plan: ends when a generator takes over',
      [{ doc: 'p', op: 'replace', path: '/ending', value: 'generator' }],
    ])
  })
})

describe('outages lived through', () => {
  it.each([
    ['6', 6, ''],
    ['0,5 h', 0.5, ''],
    ['often', null, '“often” isn’t a number'],
    ['-3', null, 'cannot be below 0'],
  ])('%j', async (typed, value, words) => {
    mount(HistoryForm, { goals: goals() })
    await type('.rows label:nth-child(3) input', typed)
    if (value === null) expect(session.edit).not.toHaveBeenCalled()
    else expect(after().history.usual_h).toBe(value)
    expect(problem.value).toContain(words)
  })

  it('plans for one that follows from them, in months that can be picked', async () => {
    mount(HistoryForm, {
      goals: goals({ proposed: [{ ...outage, id: 'usual', name: 'The usual outage', start_charge: 0.5 }] }),
    })
    expect(text('.row')).toBe('The usual outage, 24 h, starting half full Plan for it')
    saying('Jan').click()
    expect(after().history.months).toEqual([1, 11])
    saying('Plan for it').click()
    expect(last()[1][0]).toMatchObject({ doc: 'usual', op: 'add', path: '', kind: 'outage' })
    expect(session.choose).toHaveBeenCalledWith({ outage: 'usual' })
  })
})

describe('people and things', () => {
  it('adds someone by role, and says what needs hands', async () => {
    const steps = [{ title: 'Switch over', sentence: 'Main first.', stand_in: false }]
    mount(PeopleList, { goals: goals({ steps, nobody: 'No one is entered yet.' }) })
    expect(text('.step')).toBe('Switch over. Main first. Not for a stand-in alone.')
    expect(text('.gap')).toBe('No one is entered yet.')
    await type('.new input', ' Night nurse ')
    await submit('.new')
    expect(after().people['night-nurse']).toMatchObject({ name: 'Night nurse', can_switch: false, where: 'home' })
    state.value = foreseen(state.value as HomeState, last()[1])
    mount(PeopleList, { goals: goals() })
    await click('li input[type=checkbox]')
    expect(after().people['night-nurse']?.can_switch).toBe(true)
    saying('remove').click()
    expect(after().people).toEqual({})
  })

  it('lists what is already owned, and how a cable would go', async () => {
    mount(ThingList)
    await type('.new input', 'Old inlet')
    await choose('Kind', 'inlet')
    await submit('.new')
    expect(after().existing['old-inlet']).toMatchObject({ name: 'Old inlet', kind: 'inlet' })
    await type('label.spot input', 'through the crawl space')
    expect(after().panel.route).toBe('through the crawl space')
  })
})

describe('what doing without frees', () => {
  const one = { load: 'fridge', name: 'Fridge', kind: 'do_without', note: '', currency: 'USD' } as const
  it('says hours, energy and what as much storage costs', () => {
    const substitutes = [
      { ...one, hours: 2.5, never_dark: false, saved_wh: 1234, price: '410' },
      { ...one, load: 'oxygen', note: 'ice box', hours: 9, never_dark: true, saved_wh: 500, price: null },
    ]
    mount(SubstituteList, { goals: goals({ substitutes }) })
    expect(texts('li')).toEqual([
      'Fridge leave it off frees 2 h 30 m in Outage, 1.2 kWh to the goal, the same storage costs 410 USD',
      'Fridge leave it off: ice box keeps it on to the end in Outage, 0.5 kWh to the goal',
    ])
  })

  it('teaches the next step where there is none, and counts no battery twice', () => {
    state.value = homeState(1, { home: home([], [load('oxygen', { own_battery_h: 3 })]) })
    mount(SubstituteList, { goals: goals() })
    expect(text('section')).toContain('has a substitute yet')
    expect(text('section')).toContain('Oxygen runs 3 h on its own battery')
  })
})
