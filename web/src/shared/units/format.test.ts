import { describe, expect, it } from 'vitest'
import { clock, hourOfDay, hoursText, kwh, money, parseHours, parseNumber, watts } from './format'

describe('figures', () => {
  it.each([
    [18.22, '18 h 10 m'],
    [2.999999999, '3 h'],
    [0.75, '45 m'],
    [24, '24 h'],
    [2.5, '2 h 30 m'],
  ])('%d h reads %s', (hours, text) => expect(hoursText(hours)).toBe(text))

  it('rounds loads up', () => {
    expect(watts(57.2)).toBe('58 W')
    expect(watts(1180)).toBe('1,180 W')
    expect(kwh(12400)).toBe('12.4 kWh')
    expect(kwh(64)).toBe('0.06 kWh')
  })

  it('keeps the clock of the home, whatever zone the browser is in', () => {
    expect(clock('2026-11-25T11:10:00-08:00')).toBe('Wed 11:10 am')
    expect(clock('2026-11-25T00:05:00+01:00')).toBe('Wed 12:05 am')
    expect(hourOfDay(12.5)).toBe('12:30 pm')
    expect(hourOfDay(24)).toBe('12 am')
  })

  it('writes money with its currency', () => {
    expect(money('-120', 'EUR')).toBe('−120 EUR')
  })
})

describe('parseHours', () => {
  it.each([
    ['30', 30],
    ['7,5 h', 7.5],
    ['2 days', 48],
    ['2 weeks', 336],
    ['1.5d', 36],
  ])('%s is %d h', (text, value) => expect(parseHours(text)).toMatchObject({ ok: true, value }))
  it('refuses what is no length', () => expect(parseHours('two weeks').ok).toBe(false))
})

describe('parseNumber', () => {
  it.each([
    ['70', 70],
    ['1,180', 1180],
    ['1.5 kW', 1500],
    ['0,5', 0.5],
    ['1 180 W', 1180],
    ['-3', -3],
  ])('%s is %d', (text, value) => expect(parseNumber(text)).toMatchObject({ ok: true, value }))

  it.each(['', 'abc', '7 x 8', '--3'])('refuses %j with a sentence', (text) => {
    const result = parseNumber(text)
    expect(result.ok).toBe(false)
    expect(result.why).toContain('a number')
  })
})
