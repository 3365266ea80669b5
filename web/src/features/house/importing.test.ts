import { describe, expect, it } from 'vitest'
import { circuit, home, load } from '@/testing/samples'
import { guess, kept, type Mapping } from './importing'

const house = home(
  [circuit('office', [7], { name: 'Office' }), circuit('k', [8], { name: 'Kitchen counter left' })],
  [load('fridge', { name: 'Kitchen refrigerator' }), load('pump', { name: 'Septic lift pump' })],
)

describe('where a channel belongs', () => {
  it.each([
    ['lift_pump W', 'pump', ''],
    ['Refrigerator (kitchen) kWh', 'fridge', ''],
    ['office total', '', 'office'],
    ['kitchen counter left', '', 'k'],
    ['CH7', '', ''],
  ])('%s', (name, to, on) => expect(guess(house, name)).toMatchObject({ load: to, circuit: on }))

  it('sends only what was given a place', () => {
    const plain = guess(house, 'CH7')
    const mappings: Record<string, Mapping> = {
      CH7: plain,
      'lift pump': { ...guess(house, 'lift pump'), season: 'cold' },
      mains: { ...plain, home: 'home' },
    }
    expect(kept(mappings)).toEqual([
      { channel: 'lift pump', load: 'pump', circuit: null, side: 'appliance', setting: '', season: 'cold' },
      { channel: 'mains', load: null, circuit: null, side: 'appliance', setting: '', season: 'any' },
    ])
  })
})
