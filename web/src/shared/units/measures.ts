import { ref } from 'vue'
import { parseNumber } from './format'

/** In whose measures figures are shown and typed; everything is kept metric. */
export interface Measures {
  system: 'us' | 'metric'
  clock: 12 | 24
}
export type Kind = 'temperature' | 'length' | 'mass' | 'volume'

export const measures = ref<Measures>({ system: 'metric', clock: 12 })

/** Those of a home: as somebody chose, or by its place. */
export function measuresOf(site: { currency: string; measures?: Measures | null }): Measures {
  const us = site.currency === 'USD'
  return site.measures ?? { system: us ? 'us' : 'metric', clock: us ? 12 : 24 }
}

interface Way {
  unit: string
  /** From what is kept, and back. */
  to: (kept: number) => number
  from: (shown: number) => number
  /** Its unit as people write it, small letters, without dots. */
  said: RegExp
}
const same = (x: number) => x
const times = (unit: string, by: number, said: RegExp): Way => ({ unit, to: (x) => x / by, from: (x) => x * by, said })
const METRIC: Record<Kind, Way> = {
  temperature: { unit: '°C', to: same, from: same, said: /^(°\s*c|c|celsius|degrees c)$/ },
  length: { unit: 'm', to: same, from: same, said: /^(m|metres?|meters?)$/ },
  mass: { unit: 'kg', to: same, from: same, said: /^(kg|kilos?|kilograms?)$/ },
  volume: { unit: 'l', to: same, from: same, said: /^(l|litres?|liters?)$/ },
}
const US: Record<Kind, Way> = {
  temperature: {
    unit: '°F',
    to: (c) => c * 1.8 + 32,
    from: (f) => (f - 32) / 1.8,
    said: /^(°\s*f|f|fahrenheit|degrees f)$/,
  },
  length: times('ft', 0.3048, /^(ft|feet|foot|'|′)$/),
  mass: times('lb', 0.45359237, /^(lbs?|pounds?)$/),
  volume: times('gal', 3.785411784, /^(gal|gallons?)$/),
}
const way = (kind: Kind) => (measures.value.system === 'us' ? US : METRIC)[kind]

export const unitOf = (kind: Kind) => way(kind).unit

/** A kept figure in the measures in use, without float noise: what was typed comes back as it was typed. */
export const inUse = (kind: Kind, kept: number) => Math.round(way(kind).to(kept) * 100) / 100

/** “41 °F”: degrees whole in °F; the rest with one decimal below 100, two below 1. */
export function measured(kind: Kind, kept: number): string {
  const exact = way(kind).to(kept)
  // Pounds are rounded up, as loads are: the same figure as on paper.
  const value = kind === 'mass' && measures.value.system === 'us' ? Math.ceil(exact - 0.05) : exact
  const whole = Math.abs(value) >= 100 || (kind === 'temperature' && measures.value.system === 'us')
  const digits = whole ? 0 : Math.abs(value) < 1 ? 2 : 1
  const text = value.toLocaleString('en-US', { maximumFractionDigits: digits })
  return `${text === '-0' ? '0' : text} ${unitOf(kind)}`.replace('-', '−')
}

/** A typed figure, in either measure where its unit is said, and else in the one in use; what is kept, or why not. */
export function parseMeasure(kind: Kind, text: string): { ok: true; value: number } | { ok: false; why: string } {
  const typed = text.trim().replace('−', '-')
  const found = /^(-?[\d.,\s]*\d)\s*(.*)$/.exec(typed)
  const number = parseNumber(found?.[1] ?? '')
  if (!found || !number.ok) return { ok: false, why: `“${text.trim()}” isn’t a number.` }
  const unit = (found[2] ?? '').toLowerCase().replace(/\.$/, '')
  const by = !unit ? way(kind) : [METRIC[kind], US[kind]].find((w) => w.said.test(unit))
  if (!by)
    return { ok: false, why: `“${found[2]}” isn’t a unit for this. Use ${METRIC[kind].unit} or ${US[kind].unit}.` }
  return { ok: true, value: Math.round(by.from(number.value) * 1e6) / 1e6 }
}

/** “44.6 N”, “124 W”: which half of the globe is said, and not a sign that has to be known. */
export function pointText(degrees: number, [positive, negative]: readonly [string, string]): string {
  return `${Math.abs(degrees)}° ${degrees < 0 ? negative : positive}`
}
/** A point typed with its letter, or with the sign that maps use. */
export function parsePoint(
  text: string,
  [positive, negative]: readonly [string, string],
  most: number,
): { ok: true; value: number } | { ok: false; why: string } {
  const found = /^([-−+]?[\d.,]+)\s*°?\s*([a-z]?)[a-z]*$/i.exec(text.trim())
  const number = parseNumber((found?.[1] ?? '').replace('−', '-').replace('+', ''))
  const letter = found?.[2]?.toUpperCase() ?? ''
  if (!found || !number.ok || !['', positive, negative].includes(letter))
    return {
      ok: false,
      why: `“${text.trim()}” can’t be read as a coordinate. Enter 44.6 ${positive} or 44.6 ${negative}.`,
    }
  const value = letter === negative ? -Math.abs(number.value) : number.value
  return Math.abs(value) <= most ? { ok: true, value } : { ok: false, why: `At most ${most}° is possible.` }
}
export const NORTH = ['N', 'S'] as const
export const EAST = ['E', 'W'] as const
