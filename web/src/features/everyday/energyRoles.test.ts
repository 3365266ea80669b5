import { describe, expect, it } from 'vitest'
import { guessRole, guessRoles, monthDays } from './energyRoles'

describe('what a column meters', () => {
  it.each([
    ['Grid import kWh', 'bought'],
    ['Grid export kWh', 'sent'],
    ['Feed-in', 'sent'],
    ['PV yield', 'sun'],
    ['Solar generation', 'sun'],
    ['Battery discharge', 'delivered'],
    ['Battery charging', 'charged'],
    ['Home consumption', 'house'],
    ['SOC %', ''],
    ['Cell temp', ''],
    ['Remark', ''],
  ])('%s is %s', (column, role) => expect(guessRole(column)).toBe(role))
  it('gives a meter to one column only', () => {
    const found = guessRoles(['Grid import', 'Grid import 2', 'PV'])
    expect(Object.values(found)).toEqual(['bought', '', 'sun'])
  })
})

describe('a month', () => {
  it.each([
    ['2026-02', '2026-02-28'],
    ['2028-02', '2028-02-29'],
    ['2026-12', '2026-12-31'],
  ])('%s ends on %s', (month, last) => expect(monthDays(month)).toEqual([`${month}-01`, last]))
})
