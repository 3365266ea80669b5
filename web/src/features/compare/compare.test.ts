import { expect, it } from 'vitest'
import { hoursWords, type Cell } from './model'

const cell = (more: Partial<Cell>): Cell => ({
  outage: 'o', state: 'runs', words: 'Keeps going', unfed: [], fits: true, hours: 20, low_h: 18, chance: 0.4, reaches: false, neck: '', simulated_h: 60,
  beside: '', beside_more: '', ...more,
}) // prettier-ignore

it.each([
  [{}, '18 h'],
  [{ low_h: null }, 'over 60 h'],
  [{ fits: false, state: 'trips' as const, words: 'Will trip', low_h: null }, 'Will trip'],
  [{ fits: false, state: 'too_cold' as const, words: 'Too cold to run', low_h: null }, 'Too cold to run'],
  [{ fits: false, state: 'no_station' as const, words: 'No station yet', low_h: null }, 'No station yet'],
])('%j reads %s', (more, words) => expect(hoursWords(cell(more))).toBe(words))
