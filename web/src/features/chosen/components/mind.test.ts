import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { Limit, ProposalView, TransferEquipment } from '@/shared/api/types'
import { useSession } from '@/shared/session/session'
import { click, element, mount, saying, text, texts, type, choices, choose, reads } from '@/testing/mount'
import { circuit, feed, home, homeState, load, plan, verdict } from '@/testing/samples'
import { setCord, tick } from '../model'
import CordPicker from '@/shared/ui/fields/CordPicker.vue'
import EquipmentFacts from './EquipmentFacts.vue'
import ForgottenList from './ForgottenList.vue'
import MindList from './MindList.vue'

const limit = (id: string, more: Partial<Limit> = {}): Limit => ({
  id,
  family: id,
  title: id,
  kind: 'yes_no',
  severity: 'caution',
  used: 0,
  limit: 0,
  unit: '',
  ok: false,
  leg: null,
  source: null,
  margin_percent: null,
  evidence: 'fact',
  tick: '',
  sentence: `Mind the ${id}.`,
  ...more,
})

describe('what to mind', () => {
  const onChange = vi.fn()
  const show = (limits: Limit[], ticks: string[] = []) =>
    mount(MindList, { verdict: verdict({ limits }), plan: plan([], { ticks }), onChange })
  beforeEach(() => onChange.mockClear())

  it('lists cautions, and offers to settle those a person can', async () => {
    show([
      limit('cold'),
      limit('auto', { tick: 'auto_off' }),
      limit('fine', { ok: true }),
      limit('leg', { severity: 'broken' }),
    ])
    expect(texts('.one p')).toEqual(['Mind the cold.', 'Mind the auto.'])
    expect(texts('label')).toEqual(['Auto-off is turned off'])
    await click('input')
    expect(onChange).toHaveBeenCalledWith({
      label: 'Settled: Auto-off is turned off',
      ops: [{ doc: 'p', op: 'replace', path: '/ticks', value: ['auto_off'] }],
    })
  })

  it('lets an electrician’s word clear a refusal that has one', () => {
    show([limit('bond', { severity: 'refuse', tick: 'bond' })])
    expect(texts('label')).toEqual(['An electrician has resolved it'])
  })

  it('keeps what was settled in sight, to be taken up again', async () => {
    show([], ['weight'])
    expect(text('label')).toBe('Two people and a cart are available')
    await click('input')
    expect(onChange.mock.lastCall?.[0].ops[0].value).toEqual([])
  })

  it('is not there where there is nothing to mind', () => {
    show([limit('fine', { ok: true })])
    expect(document.querySelector('section')).toBeNull()
  })
})

describe('changes of a plan', () => {
  it('settle and unsettle', () => {
    const p = plan([], { ticks: ['ups'] })
    expect(tick(p, 'bond', true, 'x').ops[0]?.value).toEqual(['ups', 'bond'])
    expect(tick(p, 'ups', false, 'x').label).toBe('Not settled: x')
  })

  it('hang an appliance that is fed on its cord', () => {
    const cord = { wire: 'awg12', length_m: 5, coiled: false, chained: false }
    const p = plan([feed('f', 1, { circuit: null, load: 'fridge' })])
    const house = home([], [load('fridge')])
    expect(setCord(p, house, 'fridge', cord)).toMatchObject({
      label: 'Cord to Fridge',
      ops: [{ path: '/feeds/f/cord', value: cord }],
    })
    expect(setCord(p, house, 'lamp', cord)).toBeNull()
  })
})

describe('transfer equipment', () => {
  const equipment = {
    id: 'e',
    name: 'Relay panel',
    kind: 'relay_panel',
    automatic: true,
    transfer_ms: 30,
    places: 12,
    place_a: 30,
    inlet_a: 60,
    overload_off_grid: 'it sheds',
    overload_on_grid: 'the grid carries it',
    sheds: true,
    tops_up: false,
    switched_neutral: false,
    electrician: true,
    permit: true,
    price: '2950',
    currency: '',
    note: 'A panel with relays.',
    checklist: 'coil voltage; a bypass ;',
  } as unknown as TransferEquipment

  it('says what it is, what it wants, and what is never planned', () => {
    mount(EquipmentFacts, { equipment, currency: 'USD' })
    expect(texts('dt').map((t, i) => `${t}: ${texts('dd')[i]}`)).toEqual([
      'Switches to backup: by itself',
      'In: 30 ms',
      'Places: 12 places of 30 A',
      'Inlet and feeder: 60 A',
      'Overload without the grid: it sheds',
      'Overload with the grid on: the grid carries it',
      'Drops circuits automatically: yes',
      'Adds from the grid: no',
      'Neutral: stays connected',
      'Wants: an electrician and a permit',
      'Costs about: 2,950 USD',
    ])
    expect(texts('li')).toEqual(['coil voltage', 'a bypass'])
    expect(text('details')).toContain('It violates code, and it has killed people.')
  })

  it('by hand takes minutes, and unlisted says so', () => {
    mount(EquipmentFacts, {
      equipment: { ...equipment, kind: 'cords', automatic: false, transfer_ms: null },
      currency: 'USD',
    })
    expect(texts('dd')).toEqual(['by hand', 'minutes'])
    mount(EquipmentFacts, { equipment: { ...equipment, transfer_ms: null }, currency: 'USD' })
    expect(texts('dd')[1]).toBe('a time its manufacturer doesn’t list')
  })
})

const asked = vi.hoisted(() => ({ answer: vi.fn() }))
vi.mock('@/shared/api/client', async (original) => ({
  ...(await original<object>()),
  answer: asked.answer,
  api: { POST: () => Promise.resolve() },
}))
vi.mock('@tanstack/vue-query', async (original) => ({
  ...(await original<object>()),
  useQuery: () => ({
    data: {
      value: [
        { id: 'awg12', name: '12 AWG', metric: false, amps: 25 },
        { id: 'mm25', name: '2.5 mm²', metric: true, amps: 25 },
      ],
    },
  }),
}))

describe('a cord', () => {
  const onChange = vi.fn()
  const onProblem = vi.fn()
  const cord = { wire: 'awg12', length_m: 7.62, coiled: false, chained: false }
  const show = (more = {}) =>
    mount(CordPicker, { cord, metric: false, label: 'Its cord', onChange, onProblem, ...more })
  beforeEach(() => [onChange, onProblem].forEach((f) => f.mockClear()))

  it('is not known until its size is, and then of a usual length', async () => {
    show({ cord: null })
    expect((await choices('Its cord: size')).map(reads)).toEqual(['not known', '12 AWG, 25 A'])
    await choose('Its cord: size', '12 AWG, 25 A')
    expect(onChange).toHaveBeenCalledWith(cord)
    show({ cord: null, metric: true })
    await choose('Its cord: size', '2.5 mm², 25 A')
    expect(onChange).toHaveBeenLastCalledWith({ ...cord, wire: 'mm25', length_m: 10 })
  })

  it.each([
    ['50 ft', false, 15.24],
    ['50', false, 15.24],
    ['15 m', false, 15],
    ['15', true, 15],
    ['49,2 ft', true, 15],
  ])('%s is %s metric and %s m', async (typed, metric, metres) => {
    show({ metric })
    await type('[aria-label="Its cord: length"]', typed)
    expect(onChange.mock.lastCall?.[0].length_m).toBeCloseTo(metres, 2)
  })

  it.each([
    ['long', '“long” isn’t a number'],
    ['0 ft', 'above 0'],
  ])('%s is refused', async (typed, words) => {
    show()
    await type('[aria-label="Its cord: length"]', typed)
    expect(onProblem.mock.lastCall?.[0]).toContain(words)
    expect(onChange).not.toHaveBeenCalled()
  })

  it('says how it lies', async () => {
    show()
    expect(element<HTMLInputElement>('[aria-label="Its cord: length"]').value).toBe('25 ft')
    await click('input[type=checkbox]')
    expect(onChange).toHaveBeenCalledWith({ ...cord, coiled: true })
  })
})

describe('a set proposed', async () => {
  const { default: ProposeDialog } = await import('./ProposeDialog.vue')
  const found: ProposalView = {
    classes: [
      { purpose: 'life', got: 1, of: 1 },
      { purpose: 'food', got: 0.5, of: 2 },
      { purpose: 'comfort', got: 0, of: 0 },
    ],
    rides: [
      { circuit: 'a', place: 1, stance: 'keep_on', moved: true },
      { circuit: 'b', place: 2, stance: 'turns', moved: false },
    ],
    left: [{ circuit: 'c', sentence: 'Circuit c: no place is left.' }],
    hours: 20.5,
    low_h: 18,
    short: false,
    ops: [{ doc: 'p', op: 'replace', path: '/feeds', value: {} }],
  }
  const circuits = [circuit('a', [1]), circuit('b', [2])]
  const show = (purpose: 'life' | 'food') => {
    useSession().state.value = homeState(1, { home: home(circuits, [load('oxygen', { circuit: 'a', purpose })]) })
    useSession().pair.value = { plan: 'p', outage: 'o' }
    mount(ProposeDialog)
  }
  beforeEach(() => {
    asked.answer.mockReset()
    asked.answer.mockResolvedValue(found)
  })
  const settled = () => new Promise((resolve) => setTimeout(resolve))

  it('asks about medical devices before anything is proposed', async () => {
    show('food')
    await settled()
    const button = saying('Propose') as HTMLButtonElement
    expect(button.disabled).toBe(true)
    await click('.ask input')
    expect(button.disabled).toBe(false)
    show('life')
    await settled()
    expect(text('[role=dialog]')).toContain('Kept before everything else: Oxygen')
  })

  it('says what rides, what stays off and why, class by class', async () => {
    show('life')
    await settled()
    saying('Propose').click()
    await settled()
    await settled()
    expect(text('.sum')).toBe('Count on 18 h, probably 20 h 30 m.')
    expect(texts('ol li')).toEqual(['Circuit a place 1', 'Circuit b place 2, takes turns, as it is'])
    expect(text('[role=dialog]')).toContain('Circuit c: no place is left.')
    expect(text('[role=dialog]')).toContain('food: 0.5 of 2')
    expect(text('[role=dialog]')).not.toContain('comfort: 0')
  })

  it.each([
    [{ ...found, hours: null, low_h: null }, 'Still on at the end.'],
    [{ ...found, rides: [], low_h: null }, 'No circuit can be backed up here'],
    [{ ...found, short: true }, 'No set reaches these hours'],
  ])('%#', async (answered, words) => {
    asked.answer.mockResolvedValue(answered)
    show('life')
    await settled()
    saying('Propose').click()
    await settled()
    await settled()
    expect(text('.sum')).toContain(words)
  })

  it('refuses hours that are none', async () => {
    show('life')
    await settled()
    await type('[aria-label="Hours to last"]', 'forever')
    saying('Propose').click()
    await settled()
    expect(text('[role=alert]')).toContain('“forever” isn’t a number')
    expect(asked.answer).not.toHaveBeenCalled()
  })
})

describe('what is easily forgotten', () => {
  const reminder = (key: string, state: string, loads: string[] = []) => ({
    key,
    name: key,
    state,
    loads,
    sentence: `Think of ${key}.`,
  })
  const reminders = [
    reminder('network', 'fed', ['Router']),
    reminder('sump', 'left_off', ['Sump pump']),
    reminder('garage', 'absent'),
  ]
  const onChange = vi.fn()
  const shown = (ticks: string[] = []) =>
    void mount(ForgottenList, { verdict: verdict({ reminders } as never), plan: plan([], { ticks }), onChange })
  it('names what stays off and what is not in the house, and nothing that is fed', () => {
    shown()
    expect(text('summary')).toBe('Easily forgotten 2')
    expect(texts('details p')).toEqual([
      'sump stays off (Sump pump). Think of sump. not needed',
      'garage is not among the loads. Think of garage. not needed',
    ])
  })
  it('is told that something is not needed, and thinks again', async () => {
    shown()
    await click('details p:last-child button')
    expect(onChange.mock.lastCall?.[0].ops[0].value).toEqual(['not_needed:garage'])
    shown(['not_needed:garage', 'not_needed:sump'])
    expect(text('summary')).toBe('Easily forgotten all thought of')
    await click('details p:last-child button')
    expect(onChange.mock.lastCall?.[0].ops[0].value).toEqual(['not_needed:sump'])
  })
})
