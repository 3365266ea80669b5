import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { Engine, FuelView, Generator } from '@/shared/api/types'
import { useSession } from '@/shared/session/session'
import { click, element, mount, saying, text, texts, type } from '@/testing/mount'
import { plan } from '@/testing/samples'
import EngineForm from './components/EngineForm.vue'
import FillWays from './components/FillWays.vue'
import SchoolStrips from './components/SchoolStrips.vue'

const engine: Engine = {
  generator: 'g', source: 'main', also: [], school: 'fill', stock_l: 20, start_at: 0.5, stop_at: 0.9, windows: [], charges: true,
  owned: false,
} // prettier-ignore
const made = {
  id: 'g', name: 'Cinder', volts: '120', running_w: 1900, surge_w: 2300, fuel: 'petrol', half_l_h: 0.6, full_l_h: 1,
  tank_l: 4, start: 'by_hand', weight_kg: 22, noise_db: 56, price: '620', currency: 'USD',
} as Generator // prettier-ignore
const school = (school: 'fill' | 'carry', more = {}) => ({
  school, run_h: 5, fuel_l: 5.4, a_day_l: 5.4, runs: 1, trips: 0, fuel_days: 3.7, hours: null, low: 0.4, load_share: 0.9,
  spans: [{ from_h: 2, to_h: 7 }], gone_h: null, reason: 'Because.', ...more,
}) // prettier-ignore
const view = {
  generators: [made], schools: [school('fill'), school('carry', { hours: 30, trips: 2, runs: 3, spans: [], gone_h: 66 })],
  difference: 'Carry burns twice.', running_w: 1900, charger_w: 1500, minutes: 90, alone: true,
  ways: [{ name: 'The wall', watts: 1500, hours: 4, note: '' }, { name: 'The sun', watts: 0, hours: null, note: 'dark' }],
  plugs: [{ start: 'Outlet', end: 'inlet', amps: 20, fits: false, note: 'adapter' }],
} as FuelView // prettier-ignore

beforeEach(() => (useSession().problem.value = ''))

describe('both schools', () => {
  it('stand with what they burn, the plan’s method marked', async () => {
    const change = vi.fn()
    mount(SchoolStrips, { view, engine, hours: 72, onChange: change })
    expect(texts('h2')).toEqual(['Charge and stop the plan’s method', 'Power the house'])
    expect(text('article')).toContain('5.4 l')
    expect(texts('article')[0]).toContain('one tank is enough')
    expect(texts('article')[1]).toContain('refueled 2 times')
    expect(texts('article')[1]).toContain('used up after 66 h')
    expect(text('[role=alert]')).toContain('no one at home can')
    expect(document.querySelectorAll('.lane b')).toHaveLength(1)
    saying('Power the house').click()
    expect(change).toHaveBeenCalledWith({ school: 'carry' }, 'Generator: power the house')
    saying('Charge and stop').click()
    expect(change).toHaveBeenCalledTimes(1)
  })
})

describe('the form', () => {
  it('sends figures, and refuses what cannot be', async () => {
    const change = vi.fn()
    mount(EngineForm, { engine, plan: plan(), generators: [made], sources: plan().sources, onChange: change })
    await type('input[inputmode=numeric]', '120')
    expect(useSession().problem.value).toContain('enter 0 to 95')
    expect(element<HTMLInputElement>('input[inputmode=numeric]').value).toBe('50')
    await click('input[type=checkbox]')
    expect(change).toHaveBeenLastCalledWith({ charges: false }, 'Generator: only feeds the loads')
    expect(text('form')).toContain('Started by hand.')
  })
})

it('lists every way to fill, and the plugs that have to meet', () => {
  mount(FillWays, { view })
  expect(texts('tbody tr')[0]).toContain('4 h')
  expect(texts('tbody tr')[1]).toContain('never')
  expect(text('li')).toContain('20 A, adapter')
})
