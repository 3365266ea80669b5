import { expect, it } from 'vitest'
import { homeNow, homeToday } from './homeTime'

const evening = new Date('2026-12-01T03:30:00Z')

it.each([
  ['America/Los_Angeles', '2026-11-30', '2026-11-30T19:30:00'],
  ['Europe/Rome', '2026-12-01', '2026-12-01T04:30:00'],
  ['UTC', '2026-12-01', '2026-12-01T03:30:00'],
])('reads the day and hour on the clock of %s', (zone, day, now) => {
  expect(homeToday(zone, evening)).toBe(day)
  expect(homeNow(zone, evening)).toBe(now)
})
