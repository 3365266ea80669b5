import { computed, inject, provide, reactive, type InjectionKey } from 'vue'
import type { FirstAnswers, Typical } from '@/shared/api/types'
import { parseNumber } from '@/shared/units/format'

/** Hours of the day that a load is used: its own habit, all day, or from and to. */
export type Hours = 'usual' | 'all' | 'own'
export interface Pick {
  id: string
  name: string
  count: number
  watts: string
  hours: Hours
  from: number
  to: number
  /** Average W where nothing is entered; none for what isn't in the table. */
  usual: number | null
}
export type Have = 'nothing' | 'station'

/** A station's fields, as the server names them: its words here, and what is taken where it is left empty. */
export const STATION_FIELDS = [
  { id: 'nominal_wh', words: 'Capacity (Wh)', needed: true, blank: 'such as 1,024' },
  { id: 'continuous_w', words: 'Output (W)', needed: true, blank: 'such as 1,000' },
  { id: 'outlets', words: 'AC outlets', needed: false, blank: 'not counted' },
] as const
export const MORE_FIELDS = [
  { id: 'surge_va', words: 'Surge (W)', blank: 'same as output' },
  { id: 'idle_w', words: 'Own draw (W)', blank: '1%, at least 10' },
  { id: 'outlet_a', words: 'Each outlet (A)', blank: 'assumed' },
  { id: 'charge_w', words: 'Charging (W)', blank: 'not listed' },
] as const

const AMERICA = /^America\/(?!Argentina|Montevideo|Santiago|Asuncion|La_Paz|Punta)/

/** A field's label inside a sentence: `Capacity (Wh)` is `capacity in Wh`. */
function words(label: string): string {
  return (label.startsWith('AC') ? label : label[0]!.toLowerCase() + label.slice(1)).replace(/\((.+)\)/, 'in $1')
}

/** Hold what a newcomer has answered so far, and what of it can be sent. */
function makeFirstAnswers() {
  const zone = Intl.DateTimeFormat().resolvedOptions().timeZone || 'UTC'
  const volts = zone === 'UTC' || AMERICA.test(zone) ? 120 : 230
  const form = reactive({
    name: 'My home',
    volts: volts as 120 | 230,
    time_zone: zone,
    place: '',
    currency: volts === 120 ? 'USD' : 'EUR',
    climate: '' as '' | 'mild' | 'cold_winter' | 'hot_summer',
    season: '' as '' | 'winter' | 'summer',
    hours: 12,
    have: 'nothing' as Have,
    engine: false,
    wired: false,
    heating: '' as '' | 'yes' | 'no' | 'unsure',
    well: '' as '' | 'yes' | 'no',
  })
  const picks = reactive<Pick[]>([])
  const station = reactive<Record<string, string>>({ name: 'My power station' })
  const generator = reactive({ running_w: '', stock_l: '20' })
  const buy = reactive({ station: '', modules: 0 })

  function pick(row: Typical) {
    const at = picks.findIndex((p) => p.id === row.id)
    if (at >= 0) picks.splice(at, 1)
    else
      picks.push({
        id: row.id,
        name: row.name,
        count: 1,
        watts: '',
        hours: 'usual',
        from: 18,
        to: 23,
        usual: row.usual_w,
      })
  }
  function addOther(name: string) {
    const id = `other-${Date.now()}`
    picks.push({ id, name, count: 1, watts: '', hours: 'all', from: 18, to: 23, usual: null })
  }

  /** Everything that is still wrong, each with what to do. */
  const problems = computed(() => {
    const found: string[] = []
    for (const p of picks) {
      const w = parseNumber(p.watts)
      if (p.watts ? !w.ok || w.value < 0.5 : p.usual === null) found.push(`Enter the watts of ${p.name}.`)
      if (p.hours === 'own' && p.from === p.to) found.push(`Choose two different hours for ${p.name}.`)
    }
    if (form.have === 'station') {
      for (const f of [...STATION_FIELDS, ...MORE_FIELDS]) {
        const text = station[f.id] ?? ''
        const value = parseNumber(text)
        const needed = 'needed' in f && f.needed
        if (text ? !value.ok || value.value < (needed ? 10 : 0) : needed)
          found.push(`Enter the station’s ${words(f.words)}, from its label.`)
        else if (f.id === 'outlets' && value.ok && !Number.isInteger(value.value))
          found.push('Enter the number of outlets as a whole number.')
      }
    }
    if (form.engine) {
      const w = parseNumber(generator.running_w)
      if (!w.ok || w.value < 50) found.push('Enter the generator’s running watts, from its label.')
    }
    if (!/^[A-Za-z]{3}$/.test(form.currency)) found.push('Enter the currency as three letters, such as USD.')
    return found
  })

  const number = (text: string | undefined) => {
    const read = parseNumber(text || '0')
    return read.ok ? read.value : 0
  }
  /** What is sent; null while something is wrong. */
  const body = computed<FirstAnswers | null>(() => {
    if (problems.value.length) return null
    const spans = (p: Pick) =>
      p.hours === 'usual' ? {} : p.hours === 'all' ? { from_h: 0, to_h: 24 } : { from_h: p.from, to_h: p.to }
    const known = picks.filter((p) => p.usual !== null)
    return {
      name: form.name.trim() || 'My home',
      volts: form.volts,
      time_zone: form.time_zone,
      place: form.place,
      currency: form.currency.toUpperCase(),
      climate: form.climate || null,
      season: form.season || null,
      hours: form.hours,
      picks: Object.fromEntries(known.map((p) => [p.id, p.count])),
      details: Object.fromEntries(
        known.map((p) => [p.id, { ...spans(p), ...(p.watts ? { watts: number(p.watts) } : {}) }]),
      ),
      others: picks
        .filter((p) => p.usual === null)
        .map((p) => ({ name: p.name, count: p.count, watts: number(p.watts), ...spans(p) })),
      own:
        form.have === 'station'
          ? {
              name: station.name?.trim() || 'My power station',
              nominal_wh: number(station.nominal_wh),
              continuous_w: number(station.continuous_w),
              outlets: number(station.outlets),
              surge_va: number(station.surge_va),
              outlet_a: number(station.outlet_a),
              charge_w: number(station.charge_w),
              ...(station.idle_w ? { idle_w: number(station.idle_w) } : {}),
            }
          : null,
      engine: form.engine ? { running_w: number(generator.running_w), stock_l: number(generator.stock_l) } : null,
      buy: form.have === 'nothing' && buy.station ? { station: buy.station, modules: buy.modules } : null,
    } as FirstAnswers
  })
  return { form, picks, station, generator, buy, pick, addOther, problems, body }
}
type FirstForm = ReturnType<typeof makeFirstAnswers>
const KEY: InjectionKey<FirstForm> = Symbol('first answers')

/** The answers for this page and all parts of it. */
export function provideFirstAnswers(): FirstForm {
  const first = makeFirstAnswers()
  provide(KEY, first)
  return first
}
export function useFirstAnswers(): FirstForm {
  const first = inject(KEY)
  if (!first) throw new Error('no first answers are provided here')
  return first
}
