import { PLACE_NAMES } from '@/shared/pageNames'
import { computed, type ComputedRef } from 'vue'
import { useSession } from '@/shared/session/session'
import { amount, hoursText, kwh, number } from '@/shared/units/format'
import type { Verdict } from '@/shared/api/types'
import type { Place } from './router'

export interface Band {
  place: Place
  title: string
  first: string
  second: string
  figure: boolean
  /** Its name in the register of quantities, where the first line is one. */
  quantity?: string
}

/** The funnel's four bands with their own live figures; what is missing where nothing is there yet. */
export function useRailFigures(): ComputedRef<Band[]> {
  const { verdict } = useSession()
  return computed(() => [house(verdict.value), chosen(verdict.value), source(verdict.value), hours(verdict.value)])
}

function house(v: Verdict | null): Band {
  const base = { place: 'house' as const, title: 'House' }
  if (!v) return { ...base, first: '…', second: '', figure: false }
  const r = v.rail
  if (!r.loads) return { ...base, first: 'no loads yet', second: 'add one', figure: false }
  const second = r.circuits ? `${r.traced} of ${r.circuits} circuits traced` : `${r.loads} loads`
  return { ...base, first: `${kwh(r.house_wh_day)} per day`, second, figure: true, quantity: 'house_day' }
}

function chosen(v: Verdict | null): Band {
  const base = { place: 'chosen' as const, title: PLACE_NAMES.chosen }
  if (!v) return { ...base, first: '…', second: '', figure: false }
  const r = v.rail
  const places = r.places ? `${r.places_used} of ${r.places} ${r.place_word}` : `${r.places_used} powered`
  if (!r.places_used) return { ...base, first: 'nothing yet', second: 'choose circuits', figure: false }
  return { ...base, first: `${kwh(r.chosen_wh_day)} per day`, second: places, figure: true }
}

function source(v: Verdict | null): Band {
  const base = { place: 'source' as const, title: PLACE_NAMES.source }
  if (!v) return { ...base, first: '…', second: '', figure: false }
  const r = v.rail
  if (!r.station) return { ...base, first: 'no station yet', second: 'pick one', figure: false }
  const leg = r.legs > 1 ? `, ${amount(r.leg_a)} A per leg` : ''
  return {
    ...base,
    first: kwh(r.nominal_wh),
    second: r.stations > 1 ? `${r.stations} stations` : `${number(r.continuous_w / 1000, 1)} kW${leg}`,
    figure: true,
    quantity: 'stored',
  }
}

function hours(v: Verdict | null): Band {
  const base = { place: 'hours' as const, title: PLACE_NAMES.hours }
  if (!v) return { ...base, first: '…', second: '', figure: false }
  if (v.state === 'no_station' && v.needs_wh)
    return { ...base, first: `needs ${kwh(v.needs_wh)}`, second: `for ${hoursText(v.goal_hours)}`, figure: true }
  if (v.state === 'no_loads' || v.state === 'nothing_chosen' || v.state === 'no_station')
    return { ...base, first: 'none yet', second: '', figure: false }
  const said = v.headline
  if (!v.fits) return { ...base, first: said.label, second: v.neck?.title ?? '', figure: false }
  return {
    ...base,
    first: `${said.label} ${said.figure}`,
    second: said.until ? `until ${said.until}` : '',
    figure: true,
    quantity: 'count_on',
  }
}
