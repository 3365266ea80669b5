import type { Op, Plan, SolarArray } from '@/shared/api/types'
import { escape } from '@/shared/patch'

const POINTS = ['north', 'north-east', 'east', 'south-east', 'south', 'south-west', 'west', 'north-west']
export const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec']

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

/** “10–3” or “6, 7” as months; empty is all of them, null what cannot be read. */
export function parseMonths(text: string): number[] | null {
  const plain = text.trim().toLowerCase()
  if (!plain || plain === 'all') return []
  const found: number[] = []
  for (const part of plain.split(/\s*,\s*/)) {
    const ends = part.split(/\s*[-–]\s*/).map(monthOf)
    const [from, to = from] = ends
    if (ends.length > 2 || !from || !to) return null
    for (let m = from; ; m = (m % 12) + 1) {
      if (!found.includes(m)) found.push(m)
      if (m === to) break
    }
  }
  return found
}
function monthOf(word: string): number {
  const named = MONTHS.findIndex((m) => word.startsWith(m.toLowerCase())) + 1
  const n = named || Number(word)
  return Number.isInteger(n) && n >= 1 && n <= 12 ? n : 0
}

/** Months as people write them: “Oct–Mar”, “all year”. */
export function monthsText(months: number[]): string {
  if (!months.length || months.length === 12) return 'all year'
  const runs: number[][] = []
  for (const m of months) {
    const last = runs.at(-1)
    if (last && m === (last.at(-1)! % 12) + 1) last.push(m)
    else runs.push([m])
  }
  const name = (m: number | undefined) => MONTHS[(m ?? 1) - 1] ?? ''
  return runs.map((r) => (r.length === 1 ? name(r[0]) : `${name(r[0])}–${name(r.at(-1))}`)).join(', ')
}
