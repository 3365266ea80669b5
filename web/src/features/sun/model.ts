import type { Op, Plan, SolarArray } from '@/shared/api/types'
import { escape } from '@/shared/session/patch'

const POINTS = ['north', 'north-east', 'east', 'south-east', 'south', 'south-west', 'west', 'north-west']
export { MONTHS, monthsText, parseMonths } from '@/shared/units/months'

/** The nearest of eight points of the compass, by degrees from north by east. */
/** A direction as typed: degrees, or a point of the compass such as SW or south-west. */
export function azimuthOf(text: string): number | null {
  const plain = text
    .trim()
    .toLowerCase()
    .replace(/[\s-]+/g, '')
  const letters = plain.replace('north', 'n').replace('south', 's').replace('east', 'e').replace('west', 'w')
  const at = [
    'n',
    'nne',
    'ne',
    'ene',
    'e',
    'ese',
    'se',
    'sse',
    's',
    'ssw',
    'sw',
    'wsw',
    'w',
    'wnw',
    'nw',
    'nnw',
  ].indexOf(letters)
  return at < 0 ? null : at * 22.5
}
export function compass(azimuth: number): string {
  return POINTS[Math.round(azimuth / 45) % 8] ?? ''
}

/** Operations that set fields of an array; what is alike already is left out. */
export function setArray(plan: Plan, array: SolarArray, change: Partial<SolarArray>): Op[] {
  const keys = Object.keys(change) as (keyof SolarArray)[]
  return keys
    .filter((k) => JSON.stringify(change[k]) !== JSON.stringify(array[k]))
    .map((k) => ({ doc: plan.id, op: 'replace', path: `/arrays/${escape(array.id)}/${k}`, value: change[k] }))
}
