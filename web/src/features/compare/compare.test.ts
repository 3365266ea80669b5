import { expect, it } from 'vitest'
import { hoursWords, type Cell } from './model'

const cell = (more: Partial<Cell>): Cell => ({
  outage: 'o', state: 'runs', fits: true, hours: 20, low_h: 18, chance: 0.4, reaches: false, neck: '', simulated_h: 60,
  beside: '', ...more,
}) // prettier-ignore

it.each([
  [{}, '18 h'],
  [{ low_h: null }, 'over 60 h'],
  [{ fits: false, state: 'trips' as const, low_h: null }, 'will trip'],
  [{ fits: false, state: 'too_cold' as const, low_h: null }, 'too cold'],
  [{ fits: false, state: 'no_station' as const, low_h: null }, 'no station'],
])('%j reads %s', (more, words) => expect(hoursWords(cell(more))).toBe(words))
