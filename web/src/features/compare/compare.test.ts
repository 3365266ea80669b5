import { expect, it } from 'vitest'
import { headline } from '@/testing/samples'
import { hoursWords, type Cell } from './model'

it.each([
  [headline('runs'), 'Count on 15 h'],
  [headline('runs', { label: 'Still on after', figure: '60 h' }), 'Still on after 60 h'],
  [headline('trips'), 'Will trip'],
])('%j reads %s', (said, words) => expect(hoursWords({ headline: said } as Cell)).toBe(words))
