import { afterEach, describe, expect, it } from 'vitest'
import { clock, hourOfDay } from './format'
import {
  inUse,
  measured,
  measures,
  measuresOf,
  parseMeasure,
  type Kind,
  EAST,
  NORTH,
  parsePoint,
  pointText,
} from './measures'

const use = (system: 'us' | 'metric', hours: 12 | 24 = 12) => (measures.value = { system, clock: hours })
afterEach(() => use('metric'))

describe('figures in two measures', () => {
  it.each([
    ['us', 'temperature', 5, '41 °F'],
    ['us', 'temperature', -40, '−40 °F'],
    ['metric', 'temperature', -4, '−4 °C'],
    ['us', 'length', 10.668, '35 ft'],
    ['metric', 'length', 10, '10 m'],
    ['us', 'mass', 58, '128 lb'],
    ['us', 'volume', 20, '5.3 gal'],
    ['metric', 'volume', 0, '0 l'],
  ] as const)('%s %s %s is %s', (system, kind, kept, shown) => {
    use(system)
    expect(measured(kind, kept)).toBe(shown)
  })

  it.each([
    ['us', 'length', '35', 10.668],
    ['us', 'length', '35 ft', 10.668],
    ['us', 'length', '10 m', 10],
    ['metric', 'length', '35 ft', 10.668],
    ['metric', 'temperature', '41 °F', 5],
    ['us', 'temperature', '−40', -40],
    ['us', 'temperature', '5 °C', 5],
    ['metric', 'volume', '1 gal', 3.785412],
    ['us', 'mass', '128 lbs', 58.059823],
  ] as const)('%s: %s “%s” is kept as %s', (system, kind, typed, kept) => {
    use(system)
    expect(parseMeasure(kind, typed)).toEqual({ ok: true, value: kept })
  })

  it.each(['', 'warm', '5 furlongs', '1.2.3 m'])('refuses “%s” and says why', (typed) => {
    const read = parseMeasure('length', typed)
    expect(read.ok).toBe(false)
    expect(read.ok ? '' : read.why).not.toBe('')
  })

  it('what was typed comes back as it was typed', () => {
    for (const system of ['us', 'metric'] as const) {
      use(system)
      for (const kind of ['temperature', 'length', 'mass', 'volume'] as Kind[])
        for (let typed = -40; typed <= 400; typed += 0.37) {
          const shown = Math.round(typed * 100) / 100
          const read = parseMeasure(kind, String(shown))
          expect(read.ok && inUse(kind, read.value)).toBe(shown)
        }
    }
  })
})

describe('clocks', () => {
  it.each([
    [12, 'Wed 6:05 pm', '6:30 am', '7 am'],
    [24, 'Wed 18:05', '6:30', '7:00'],
  ] as const)('of %s hours', (hours, moment, half, whole) => {
    use('metric', hours)
    expect(clock('2026-11-25T18:05:00')).toBe(moment)
    expect(hourOfDay(6.5)).toBe(half)
    expect(hourOfDay(7)).toBe(whole)
  })

  it('and measures are those of the place until somebody chooses', () => {
    expect(measuresOf({ currency: 'USD' })).toEqual({ system: 'us', clock: 12 })
    expect(measuresOf({ currency: 'EUR', measures: null })).toEqual({ system: 'metric', clock: 24 })
    expect(measuresOf({ currency: 'USD', measures: { system: 'metric', clock: 24 } }).system).toBe('metric')
  })
})

describe('a point on the globe', () => {
  it.each([
    ['124 W', -124],
    ['124° w', -124],
    ['-124', -124],
    ['12.5 East', 12.5],
    ['9,25 E', 9.25],
  ])('%s', (typed, value) => expect(parsePoint(typed, EAST, 180)).toEqual({ ok: true, value }))
  it.each(['124 N', '200 E', 'far', ''])('%j is refused', (typed) =>
    expect(parsePoint(typed, EAST, 180).ok).toBe(false),
  )
  it('is shown with its letter, and reads back', () => {
    for (const value of [44.6, -12.25, 0]) {
      expect(pointText(value, NORTH)).not.toContain('-')
      expect(parsePoint(pointText(value, NORTH), NORTH, 66)).toEqual({ ok: true, value })
    }
  })
})
