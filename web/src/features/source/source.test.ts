import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { ModuleKind, Source, Station, StationView } from '@/shared/api/types'
import { useSession } from '@/shared/session/session'
import { mount, texts, type } from '@/testing/mount'
import { home, homeState, plan } from '@/testing/samples'
import JoiningSettings from './components/JoiningSettings.vue'
import SourceSettings from './components/SourceSettings.vue'
import StationTable from './components/StationTable.vue'
import { stationColumns } from './stationColumns'

const session = vi.hoisted(() => ({ edit: vi.fn() }))
vi.mock('@/shared/session/session', async (original) => ({ ...(await original<object>()), ...session }))
vi.mock('@/shared/ui/fields/CordPicker.vue', () => ({ default: { render: () => null } }))

const station = (id: string, more: Partial<Station> = {}) =>
  ({
    id, name: id, volts: '120', nominal_wh: 3300, module_name: 'Stave', module_wh: 2900, max_modules: 2, continuous_w: 3000,
    surge_va: 6000, idle_w: 20, module_draw_w: 3, settings: '',
    rated_va: 3000,
    leg_a: 25,
    surge_s: 3,
    efficiency: 0.93,
    solar_max_v: 140,
    solar_max_a: 14,
    discharge_min_c: -15,
    discharge_max_c: 45,
    restart: 'by_hand',
    transfer_ms: 16,
    outlets: 5,
    outlet_a: 20, charge_w: 1600, charge_w_per_module: 400, weight_kg: 41, price: '2250',
    currency: 'USD', parallel_most: 2, coupler: 'Pair coupler', solar_inputs: 2, solar_max_w: 1400, warranty_years: 0,
    cycle_life: 4000, noise_idle_db: 0, noise_load_db: 51, listed: '', repairable: 'fan', ...more,
  }) as Station // prettier-ignore
const option = (modules: number, more = {}) => ({
  modules, nominal_wh: 3300 + 2900 * modules, price: String(2250 + 1290 * modules), state: 'runs', hours: 10 + 8 * modules,
  low_hours: 9, neck: '', own_draw: (24 * 20) / (1000 + 500 * modules), refill_h: 2 + modules, may: false, own_w: 20, charger_w: 600,
  gained_h: modules ? 8 : null, more: modules ? '1290' : null, ...more,
}) // prettier-ignore
const view = (s: Station, ...options: object[]) => ({ station: s, options }) as unknown as StationView
const source = { id: 'main', station: 'firkin', modules: 1, module: null, units: 1, link: 'parallel' } as Source
const row = (s: Station, o: object) => ({ station: s, option: o, now: false }) as never

beforeEach(() => {
  session.edit.mockClear()
  useSession().state.value = homeState(1)
})

describe('the columns', () => {
  const column = (key: string) => stationColumns(48).find((c) => c.key === key)!
  it.each([
    ['hours', option(1), '9 h'],
    ['hours', option(0, { low_hours: null }), 'over 48 h'],
    ['expected', option(1), '18 h'],
    ['expected', option(0, { hours: null }), 'over 48 h'],
    ['hours', option(0, { state: 'trips', words: 'Will trip' }), 'Will trip'],
    ['grown', option(0), '9.1 kWh'],
    ['refill', option(1), '3 h'],
    ['refill', option(0, { refill_h: null }), 'unlisted'],
    ['sun', option(0), '2,800 W'],
    ['perkwh', option(0), '682 USD'],
    ['noise_idle_db', option(0), 'not listed'],
    ['noise_load_db', option(0), '51 dB'],
    ['years', option(0), 'not listed'],
    ['listed', option(0), 'not listed'],
  ])('%s', (key, o, text) => expect(column(key).text(row(station('firkin'), o))).toBe(text))
})

it('sorts by hours, the longest first, and what does not run last', () => {
  const stations = [
    view(station('a'), option(0)),
    view(station('b'), option(0, { state: 'trips' })),
    view(station('c'), option(0, { low_hours: null })),
  ]
  mount(StationTable, { stations, source: null, simulated: 48 })
  expect(texts('tbody th b')).toEqual(['c', 'a', 'b'])
})

describe('the settings of a source', () => {
  const kinds = [{ id: 'slab', name: 'Slab', battery_v: 51.2, currency: 'USD' }] as ModuleKind[]
  const shown = (s: Partial<Source> = {}) =>
    mount(SourceSettings, {
      plan: plan(),
      source: { ...source, ...s },
      view: view(station('firkin'), option(0), option(1), option(2)),
      kinds,
    })
  it('says what each module buys and costs', () => {
    shown()
    expect(texts('.modules button')).toEqual([
      'alone 3.3 kWh',
      '+ 1 Stave 6.2 kWh · +8 h · 1,290 USD',
      '+ 2 Stave 9.1 kWh · +8 h · 1,290 USD',
    ])
  })
  it('names modules of another kind', () => {
    shown({ module: 'slab' })
    expect(texts('.modules button')[1]).toContain('+ 1 Slab')
  })
})

it('charging below nothing is refused with a sentence; amps are taken as well as watts', async () => {
  mount(JoiningSettings, { plan: plan(), home: home(), source, station: station('firkin'), modules: 1 })
  const field = '[aria-label="Charging (W or A)"]'
  await type(field, '-5')
  expect(useSession().problem.value).toBe('Charging: it cannot be below 0.')
  const put = (value: number) => [{ doc: 'p', op: 'replace', path: '/sources/main/charge_w', value }]
  await type(field, '900')
  expect(session.edit.mock.lastCall).toEqual(['Charging at 900 W', put(900)])
  await type(field, '8 A')
  expect(session.edit.mock.lastCall).toEqual(['Charging at 8 A, 960 W', put(960)])
})
