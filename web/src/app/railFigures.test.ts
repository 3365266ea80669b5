import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { Verdict } from '@/shared/api/types'
import { useSession } from '@/shared/session/session'
import { headline, verdict } from '@/testing/samples'
import { useRailFigures } from './railFigures'

vi.mock('@/shared/api/client', () => ({ api: {}, answer: vi.fn(), Refused: class {}, Unreachable: class {} }))

const bands = (v: Verdict | null) => {
  useSession().verdict.value = v
  return useRailFigures().value.map((b) => [b.first, b.second])
}
const rail = (more: Partial<Verdict['rail']>) => ({ ...verdict().rail, ...more })
beforeEach(() => (useSession().verdict.value = null))

describe('the funnel’s figures', () => {
  it('has one for each band', () => {
    expect(bands(verdict())).toEqual([
      ['31.6 kWh per day', '25 of 26 circuits traced'],
      ['7.4 kWh per day', '9 of 10 places'],
      ['12.4 kWh', '5 kW, 25 A per leg'],
      ['Count on 15 h', 'until Wed 9:00 am'],
    ])
  })

  it.each([
    [null, ['…', '']],
    [verdict({ state: 'no_loads', fits: false, rail: rail({ loads: 0 }) }), ['no loads yet', 'add one']],
    [verdict({ rail: rail({ circuits: 0, loads: 12 }) }), ['31.6 kWh per day', '12 loads']],
  ])('House %#', (v, expected) => expect(bands(v)[0]).toEqual(expected))

  it.each([
    [verdict({ rail: rail({ places_used: 0 }) }), ['nothing yet', 'choose circuits']],
    [
      verdict({ rail: rail({ places_used: 3, places: 4, place_word: 'outlets' }) }),
      ['7.4 kWh per day', '3 of 4 outlets'],
    ],
    [verdict({ rail: rail({ places: 0 }) }), ['7.4 kWh per day', '9 powered']],
  ])('Chosen %#', (v, expected) => expect(bands(v)[1]).toEqual(expected))

  it.each([
    [verdict({ rail: rail({ station: null }) }), ['no station yet', 'pick one']],
    [verdict({ rail: rail({ legs: 1, continuous_w: 1900, nominal_wh: 1680 }) }), ['1.7 kWh', '1.9 kW']],
  ])('Source %#', (v, expected) => expect(bands(v)[2]).toEqual(expected))

  it.each([
    [
      verdict({ headline: headline('runs', { label: 'Still on after', figure: '48 h', until: '' }) }),
      ['Still on after 48 h', ''],
    ],
    [verdict({ state: 'no_station', fits: false, hours: null, needs_wh: 3100 }), ['needs 3.1 kWh', 'for 24 h']],
    [verdict({ state: 'nothing_chosen', fits: false, hours: null }), ['none yet', '']],
    [
      verdict({
        state: 'trips',
        words: 'Will trip',
        fits: false,
        neck: { id: 'leg:B', kind: 'broken', title: 'Leg B: 27 of 25 A', sentence: '' },
      }),
      ['Will trip', 'Leg B: 27 of 25 A'],
    ],
  ])('Hours %#', (v, expected) => expect(bands(v)[3]).toEqual(expected))
})
