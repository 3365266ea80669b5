import type { FieldNote } from '@/shared/api/types'
import { parseNumber } from '@/shared/units/format'
import { inUse, measured, measures, parseMeasure, unitOf, type Kind as Measure } from '@/shared/units/measures'

export type Entry = Record<string, string | number | boolean | null>
export const KINDS = ['stations', 'modules', 'panels', 'transfer', 'generators'] as const
export type Kind = (typeof KINDS)[number]
export const KIND_WORDS: Record<Kind, { many: string; one: string; columns: string[] }> = {
  stations: {
    many: 'Stations',
    one: 'station',
    columns: ['volts', 'nominal_wh', 'continuous_w', 'surge_va', 'leg_a', 'weight_kg', 'price'],
  },
  modules: {
    many: 'Modules',
    one: 'module',
    columns: ['wh', 'battery_v', 'chemistry', 'connector', 'weight_kg', 'price'],
  },
  panels: { many: 'Solar panels', one: 'solar panel', columns: ['w', 'voc_v', 'vmp_v', 'isc_a', 'imp_a', 'price'] },
  transfer: {
    many: 'Transfer equipment',
    one: 'transfer equipment',
    columns: ['kind', 'places', 'place_a', 'inlet_a', 'automatic', 'price'],
  },
  generators: {
    many: 'Generators',
    one: 'generator',
    columns: ['volts', 'running_w', 'fuel', 'half_l_h', 'full_l_h', 'tank_l', 'price'],
  },
}
/** What a field is measured in, by the end of its name, where people write it in two measures. */
export function measureOf(name: string): Measure | null {
  if (name.endsWith('percent_c')) return null
  const found = /_(kg|c|m|l)(_h)?$/.exec(name)
  return found ? ({ kg: 'mass', c: 'temperature', m: 'length', l: 'volume' } as const)[found[1] as 'kg'] : null
}
const UNITS: Record<string, string> = {
  w: 'W', va: 'VA', wh: 'Wh', v: 'V', a: 'A', s: 's', ms: 'ms', h: 'h', c: '°C', kg: 'kg', m: 'm', db: 'dB',
} // prettier-ignore

/** A field's name as a person reads it: the words, and the unit that ends it. */
export function fieldWords(name: string): { words: string; unit: string } {
  const parts = name.split('_')
  const last = parts.at(-1) ?? ''
  if (name.endsWith('percent_c')) return { words: parts.slice(0, -2).join(' '), unit: '% per °C' }
  const measure = measureOf(name)
  if (measure) {
    const hourly = name.endsWith('_l_h')
    const words = parts.slice(0, hourly ? -2 : -1).join(' ')
    return { words, unit: `${unitOf(measure)}${hourly ? '/h' : ''}` }
  }
  const unit = UNITS[last] ?? ''
  const words = (unit && parts.length > 1 ? parts.slice(0, -1) : parts)
    .join(' ')
    .replace(/\b(voc|vmp|isc|imp)\b/g, (w) => w[0]!.toUpperCase() + w.slice(1))
  return { words, unit }
}

/** Fields in which zero is a figure; in all others it stands for what is not listed. */
const REAL_ZERO = /^(idle_w|module_draw_w|max_modules|solar_inputs|places|generation|draw_w|link_price)$|_c$/

/** A value with its unit; what is not known is a dash. */
export function valueText(name: string, value: Entry[string] | undefined): string {
  const { unit } = fieldWords(name)
  if (value === null || value === undefined || value === '') return '–'
  if (value === 0 && !REAL_ZERO.test(name)) return '–' // what a maker does not list is no zero
  if (typeof value === 'boolean') return value ? 'yes' : 'no'
  const measure = measureOf(name)
  if (measure && typeof value === 'number') return measured(measure, value) + (name.endsWith('_l_h') ? '/h' : '')
  if (typeof value === 'string') value = choiceWords(value)
  const figure = typeof value === 'number' ? value.toLocaleString('en-US') : value.replace(/_/g, ' ')
  const tail = name === 'volts' && /\d/.test(figure) ? 'V' : unit
  return tail ? `${figure} ${tail}` : figure
}

/** A choice as it is called here: what burns in most engines has two names. */
export function choiceWords(value: string): string {
  return (value === 'petrol' && measures.value.system === 'us' ? 'gasoline' : value).replace(/_/g, ' ')
}

/** Limits or a default, kept metric, in the measures in use. */
export function inWords(name: string, text: string): string {
  const measure = measureOf(name)
  if (!measure) return text
  return text
    .replace(/-?\d+(\.\d+)?/g, (n) => String(inUse(measure, Number(n))))
    .replace(/\s(kg|°C|m|l)\b/, ` ${unitOf(measure)}`)
}

/** A bank written as volts and amp-hours, in Wh: “12.8 V 100 Ah”, “12.8 V 100 Ah, 4 in series, 2 parallel”. Amp-hours
 *  without volts say nothing; null where the text is no bank at all. */
export function bankWh(text: string): { wh: number; problem: string } | null {
  if (!/\d\s*ah\b/i.test(text)) return null
  const pick = (pattern: RegExp) => Number((pattern.exec(text)?.[1] ?? '').replace(',', '.'))
  const ah = pick(/([\d.,]+)\s*ah\b/i)
  const volts = pick(/([\d.,]+)\s*v\b/i)
  if (!volts) return { wh: 0, problem: 'Amp-hours need volts. Enter both, such as 12.8 V 100 Ah.' }
  const series = pick(/(\d+)\s*(?:s\b|s(?=\d)|in series)/i) || 1
  const parallel = pick(/(\d+)\s*(?:p\b|parallel|side by side)/i) || 1
  return { wh: volts * ah * series * parallel, problem: '' }
}

/** What was typed, as the entry wants it; a sentence where it cannot be. Empty is the default, and left out. */
export function readFields(notes: FieldNote[], typed: Record<string, string>): { entry: Entry; problem: string } {
  const entry: Entry = {}
  for (const note of notes) {
    const text = (typed[note.name] ?? '').trim()
    const { words } = fieldWords(note.name)
    if (!text) {
      if (note.needed) return { entry, problem: `${words}: enter a value${note.limits ? `, ${note.limits}` : ''}.` }
      continue
    }
    if (note.kind.startsWith('number') || note.kind.startsWith('whole number')) {
      const bank = /wh$/.test(note.name) ? bankWh(text) : null
      if (bank?.problem) return { entry, problem: `${words}: ${bank.problem}` }
      const measure = measureOf(note.name)
      const parsed = bank
        ? { ok: true as const, value: bank.wh }
        : measure
          ? parseMeasure(measure, text.replace(/\s*(\/|an? |per )\s*h(our)?$/i, ''))
          : parseNumber(text)
      if (!parsed.ok) return { entry, problem: `${words}: ${parsed.why}` }
      entry[note.name] = parsed.value
    } else if (note.kind.startsWith('true')) entry[note.name] = text === 'yes'
    else entry[note.name] = text
  }
  return { entry, problem: '' }
}

/** What a reader gives, always metric, as the fields show it: in the measures in use. */
export function shownOf(values: Record<string, string>): Record<string, string> {
  const shown = ([name, value]: [string, string]) => {
    const measure = measureOf(name)
    return [name, measure && value !== '' ? String(inUse(measure, Number(value))) : value]
  }
  return Object.fromEntries(Object.entries(values).map(shown))
}

/** The same, with its unit, to be looked at before it is taken. */
export function readText(name: string, value: string): string {
  return valueText(name, /^[-+]?[\d.]+$/.test(value) ? Number(value) : value)
}

/** An entry as text, field by field, to change it. */
export function typedOf(notes: FieldNote[], entry: Entry): Record<string, string> {
  const text = (name: string, v: Entry[string] | undefined) => {
    if (v === null || v === undefined) return ''
    if (typeof v === 'boolean') return v ? 'yes' : 'no'
    if (v === 0 && !REAL_ZERO.test(name)) return ''
    const measure = measureOf(name)
    return String(measure && typeof v === 'number' ? inUse(measure, v) : v)
  }
  return Object.fromEntries(notes.map((n) => [n.name, text(n.name, entry[n.name])]))
}
