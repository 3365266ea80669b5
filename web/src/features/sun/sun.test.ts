import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { Panel, Plan, SolarArray, SunView } from '@/shared/api/types'
import { useSession } from '@/shared/session/session'
import { click, element, mount, text, texts, type } from '@/testing/mount'
import ArrayForm from './components/ArrayForm.vue'
import ArrayFound from './components/ArrayFound.vue'
import ShadeEditor from './components/ShadeEditor.vue'
import SetOutForm from './components/SetOutForm.vue'
import YearBars from './components/YearBars.vue'
import { compass, monthsText, parseMonths, setArray } from './model'

vi.mock('@/shared/ui/fields/CordPicker.vue', () => ({ default: { render: () => null } }))

const array = {
  id: 'roof', name: 'Roof', panel: 'slate', series: 4, parallel: 1, tilt: 30, azimuth: 170, input: 1, ac: false,
  source: 'main', shade: [], factor: null, cord: null, owned: false, set_out: null,
} as SolarArray // prettier-ignore
const plan = { id: 'p', arrays: { roof: array }, ticks: ['weight'] } as unknown as Plan

describe('months', () => {
  it.each([
    ['', []],
    ['all', []],
    ['6', [6]],
    ['10-3', [10, 11, 12, 1, 2, 3]],
    ['Oct–Mar', [10, 11, 12, 1, 2, 3]],
    ['june, Aug', [6, 8]],
  ])('reads %j', (text, months) => expect(parseMonths(text)).toEqual(months))
  it.each(['13', '0', 'never', '1-2-3', '5-'])('refuses %j', (text) => expect(parseMonths(text)).toBeNull())
  it.each([
    [[], 'all year'],
    [[10, 11, 12, 1], 'Oct–Jan'],
    [[6, 8], 'Jun, Aug'],
  ])('writes %j as %s', (months, text) => expect(monthsText(months)).toBe(text))
})

it.each([
  [0, 'north'],
  [170, 'south'],
  [250, 'west'],
  [350, 'north'],
])('%d° is %s', (azimuth, point) => expect(compass(azimuth)).toBe(point))

it('sets only what changes', () => {
  expect(setArray(plan, array, { tilt: 30, series: 6 })).toEqual([
    { doc: 'p', op: 'replace', path: '/arrays/roof/series', value: 6 },
  ])
})

const way = (series: number, parallel: number, bad: string[] = [], left_over = 0) => ({
  series, parallel, left_over, bad, cold_v: 44 * series, hot_v: 28 * series, isc_a: 14 * parallel, rated_w: 1720,
  takes_w: 1720, cable: '12 AWG',
}) // prettier-ignore
const found = {
  id: 'roof', rated_w: 1720, day_wh: 5200, best_w: 900, simple_wh: 4900, cable: '12 AWG',
  limits: [
    { id: 'solar_dc:roof', ok: false, severity: 'caution', tick: 'dc:roof', sentence: 'Direct current.' },
    { id: 'solar_cold:roof', ok: true, severity: 'refuse', tick: '', sentence: 'Cold volts.' },
  ],
  ways: [way(4, 1), way(3, 1, [], 1), way(2, 1, [], 2), way(1, 1, [], 3), way(2, 2, ['Too many amps.'])],
} as unknown as SunView['arrays'][number] // prettier-ignore

const onChange = vi.fn()
const onProblem = vi.fn()
beforeEach(() => vi.clearAllMocks())

describe('what was found of an array', () => {
  beforeEach(() => void mount(ArrayFound, { array, found, plan, onChange }))
  it('shows three ways that fit, and the first that does not with its reason', () => {
    expect(texts('tbody th')).toEqual([
      '4 in series',
      '3 in series 1 left over',
      '2 in series 2 left over',
      '2 in series × 2',
    ])
    expect(text('tbody tr:first-child')).toContain('as now')
    expect(text('tbody tr:last-child')).toContain('Too many amps.')
  })
  it('wires it so, and settles a caution', async () => {
    await click('tbody button')
    expect(onChange).toHaveBeenLastCalledWith(
      [{ doc: 'p', op: 'replace', path: '/arrays/roof/series', value: 3 }],
      'Roof: 3 in series × 1',
    )
    await click('.word button')
    expect(onChange.mock.lastCall?.[0]).toEqual([
      { doc: 'p', op: 'replace', path: '/ticks', value: ['weight', 'dc:roof'] },
    ])
    expect(text('body')).not.toContain('Cold volts.')
  })
})

describe('shade', () => {
  const shade = [{ from_h: 15, to_h: 19, months: [10, 11], share: 1 }]
  const field = (what: string) => `[aria-label="Shade 1: ${what}"]`
  beforeEach(() => void mount(ShadeEditor, { shade, onChange, onProblem }))
  it.each([
    ['from', '2:30 pm', { from_h: 14.5 }],
    ['from', '9', { from_h: 9 }],
    ['months', '12-2', { months: [12, 1, 2] }],
    ['percent', '60%', { share: 0.6 }],
  ])('%s takes %s', async (what, typed, change) => {
    await type(field(what), typed)
    expect(onChange).toHaveBeenCalledWith([{ ...shade[0], ...change }])
  })
  it.each([
    ['from', 'noonish', 'a time'],
    ['months', 'winter', 'a list of months'],
    ['percent', '140', '0 to 100%'],
  ])('%s refuses %s', async (what, typed, why) => {
    await type(field(what), typed)
    expect(onChange).not.toHaveBeenCalled()
    expect(onProblem.mock.lastCall?.[0]).toContain(why)
  })
})

describe('an array', () => {
  const panels = [{ id: 'slate', name: 'Slate', w: 430, price: '185', currency: 'USD' }] as unknown as Panel[]
  beforeEach(() => void mount(ArrayForm, { array, plan, panels, inputs: 2, metric: false, onChange }))
  it('takes a whole number of panels, and refuses half a one with a sentence', async () => {
    await type('.two input', '6')
    expect(onChange.mock.lastCall?.[0]).toEqual([{ doc: 'p', op: 'replace', path: '/arrays/roof/series', value: 6 }])
    onChange.mockClear()
    await type('.two input', '2.5')
    expect(onChange).not.toHaveBeenCalled()
    expect(useSession().problem.value).toContain('enter a whole number from 1 to 30, not 2.5')
    expect(element<HTMLInputElement>('.two input').value).toBe('4')
  })
})

describe('what somebody sets out', () => {
  it('is ticked with hours to begin with, keeps who does it, and is unticked', async () => {
    const change = vi.fn()
    mount(SetOutForm, { out: null, folds: false, onChange: change })
    await click('.check input')
    const fresh = { from_h: 8, to_h: 18, who: '', outage_only: true, shut_in_wind: true }
    expect(change).toHaveBeenCalledWith(fresh, 'plugged in by hand')
    mount(SetOutForm, { out: fresh, folds: false, onChange: change })
    await type('[aria-label="Who sets it out"]', 'Ada')
    expect(change).toHaveBeenLastCalledWith({ ...fresh, who: 'Ada' }, 'plugged in by Ada')
    expect(text('fieldset')).toContain('its inlet stays shut in wind')
    mount(SetOutForm, { out: fresh, folds: true, onChange: change })
    expect(text('fieldset')).toContain('stays in during a storm')
  })
})

describe('the year', () => {
  const months = Array.from({ length: 12 }, (_, i) => ({
    month: i + 1,
    clear_wh: 9000,
    overcast_wh: 900,
    mean_wh: i === 11 ? 1500 : 4000,
  }))
  const said = (change: Partial<SunView>) => {
    const view = {
      months, need_wh: 3000, worst_month: 12, panels_lacking: 4, days_to_full: 2.34, arrays: [found], low_c: -14, high_c: 38,
      looked_up: true, panels: [], ...change,
    } // prettier-ignore
    mount(YearBars, { view, home: {} })
    return text('body')
  }
  it.each([
    [4, '4 more like these would cover'],
    [0, 'Even then it covers an average day'],
    [60, 'It would take 60 more'],
    [null, 'No number of panels'],
  ])('with %s panels lacking', (panels_lacking, sentence) => expect(said({ panels_lacking })).toContain(sentence))
  it('rounds the days to full up, and says never', () => {
    expect(said({})).toContain('in 2.4 days')
    expect(said({ days_to_full: null })).toContain('doesn’t recharge')
  })
  it('says when the records are a guess', () => {
    expect(said({ looked_up: false })).toContain('a guess by climate')
    expect(said({})).not.toContain('a guess')
  })
})
