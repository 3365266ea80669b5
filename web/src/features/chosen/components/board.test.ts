import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { Limit, Verdict } from '@/shared/api/types'
import { click, mount, text, texts } from '@/testing/mount'
import { circuit, feed, home, load, plan, tenPlace, verdict } from '@/testing/samples'
import PlaceBoard from './PlaceBoard.vue'
import RoomLeft from './RoomLeft.vue'

const house = home(
  [circuit('a', [5]), circuit('b', [6]), circuit('two', [10, 12], { poles: 2 })],
  [load('fridge', { circuit: 'a' }), load('coffee', { circuit: 'a', run_w: 1050 })],
)
const limit = (id: string, more: Partial<Limit> = {}): Limit => ({
  id,
  family: id.split(':')[0] ?? id,
  title: id,
  kind: 'at_most',
  severity: 'broken',
  used: 20,
  limit: 25,
  unit: 'A',
  ok: true,
  leg: null,
  source: null,
  margin_percent: 20,
  evidence: 'fact',
  tick: '',
  sentence: `${id}.`,
  ...more,
})

describe('the switch drawn as it is', () => {
  const onSelect = vi.fn()
  const onPlace = vi.fn()
  const figures = { fridge: { id: 'fridge', mean_w: 58, duty: 0.4, fed_w: 58, run_va: 200, start_va: 1180 } }
  const show = (p = plan([feed('a', 1), feed('two', 3)]), more = {}) =>
    mount(PlaceBoard, {
      equipment: tenPlace,
      count: 10,
      home: house,
      feeds: Object.values(p.feeds),
      whole: false,
      twoLegs: true,
      selected: null,
      figures,
      spans: { two: 2 },
      placeLegs: ['A', 'B', 'A', 'B', 'A', 'B', 'A', 'B', 'A', 'B'],
      feedLegs: {},
      onSelect,
      onPlace,
      ...more,
    })
  beforeEach(() => vi.clearAllMocks())

  it('lists places in order with legs, slots and starts', () => {
    show()
    expect(texts('.n')).toEqual(['1', '2', '3', '4', '5', '6', '7', '8', '9', '10'])
    expect(texts('.leg').slice(0, 3)).toEqual(['A', 'B', 'A'])
    expect(texts('.fed')[0]).toBe('Circuit a slot 5, starts 1,180 VA')
    expect(texts('.fed')[2]).toBe('Circuit two second pole')
  })

  it('says when a circuit has its turns', () => {
    const windows = [{ start_h: 8, end_h: 20, days: 'all' as const }]
    show(plan([feed('a', 1, { stance: 'turns', windows }), feed('b', 2, { stance: 'turns', share: 0.3 })]))
    expect(texts('.fed small')).toEqual(['slot 5, 8 am to 8 pm', 'slot 6, 30% of the time'])
  })

  it('shows places beyond the last, where the plan needs them', () => {
    show(plan([feed('a', 12)]))
    expect(document.querySelectorAll('.beyond')).toHaveLength(2)
  })

  it('puts the selected circuit into a free place', async () => {
    show(plan([]), { selected: 'a' })
    await click('.empty')
    expect(onPlace).toHaveBeenCalledWith('a', 1)
  })
})

describe('room left', () => {
  const onChange = vi.fn()
  const show = (more: Partial<Verdict>, p = plan()) =>
    mount(RoomLeft, { verdict: verdict(more), home: house, plan: p, onChange })

  it('shows one bar a family, the tightest, and each leg', () => {
    const limits = [
      limit('places', { unit: 'places', used: 9, limit: 10 }),
      limit('leg:A'),
      limit('leg:B', { used: 24, margin_percent: 4 }),
      limit('together_w', { family: 'together', unit: 'W', used: 4100, limit: 5000, margin_percent: 18 }),
      limit('together_va', { family: 'together', unit: 'VA', used: 5300, limit: 5600, margin_percent: 5 }),
      limit('start:low', { severity: 'caution', ok: false, sentence: 'Mind the start.' }),
    ]
    show({ limits })
    expect(texts('.bar .row > span')).toEqual(['places', 'leg:A', 'leg:B', 'together_va'])
    expect(texts('.bar b')).toEqual(['9 of 10 places', '20 of 25 A', '24 of 25 A', '5.3 of 5.6 kVA'])
    expect(texts('.bar .small')).toEqual(['1 A left, closest to its limit'])
    expect(document.body.textContent).toContain('Mind the start.')
  })

  it('says by how much a limit is passed, and then that nothing else is next', () => {
    const limits = [limit('leg:A'), limit('leg:B', { used: 27.1, ok: false, margin_percent: -8 })]
    show({ limits, fits: false, state: 'trips' })
    expect(texts('.small').filter((t) => t?.includes('A'))).toContain('2.1 A over')
    expect(document.body.textContent).not.toContain('next to give')
  })

  it('offers to unplug a rider, to count it in, and to plug it in again', async () => {
    show({ riders: ['coffee'] })
    await click('.fold .link')
    expect(onChange).toHaveBeenCalledWith(expect.objectContaining({ label: 'Coffee unplugged' }))
    show({}, plan([], { load_choices: { coffee: 'unplugged' } }))
    expect(text('.fold')).toContain('Coffee is unplugged')
    await click('.fold .link')
    expect(onChange).toHaveBeenLastCalledWith(expect.objectContaining({ label: 'Coffee plugged in again' }))
  })

  it('puts refusals first, in words', () => {
    const refused = limit('carry_240', { kind: 'yes_no', severity: 'refuse', ok: false, sentence: 'Pump needs 240 V.' })
    show({ limits: [refused], fits: false })
    expect(text('[role=alert]')).toBe('Pump needs 240 V.')
    show({ limits: [] })
    expect(document.body.textContent).toContain('Choose a station')
  })
})
