import type { Station, StationView } from '@/shared/api/types'
import { hoursText, kwh, money, number, percent } from '@/shared/units/format'
import { measured } from '@/shared/units/measures'

/** A station as it would stand in this plan. */
export interface StationRow {
  station: Station
  option: StationView['options'][number]
  now: boolean
}

/** A column of the comparison; `more`: compared less often, shown on demand. */
export interface StationColumn {
  key: string
  label: string
  value: (r: StationRow) => number
  text: (r: StationRow) => string
  more?: boolean
}

/** What a maker does not list is a dash, never a nought. */
const listed = (value: number, text: string) => (value ? text : '—')
const ownDraw = (r: StationRow) => r.option.own_draw
const perKwh = (r: StationRow) => (1000 * Number(r.option.price)) / r.option.nominal_wh
const grown = (s: Station) => s.nominal_wh + s.max_modules * s.module_wh
const sun = (s: Station) => s.solar_inputs * s.solar_max_w
const refill = (r: StationRow) => r.option.refill_h ?? Infinity

/** simulated: how far a run looks, h: what a station that never goes dark is at least good for. */
export function stationColumns(simulated: number): StationColumn[] {
  const asText = (h: number | null) => (h === null ? `over ${hoursText(simulated)}` : hoursText(h))
  const countOn = ({ option: o }: StationRow) => (o.state !== 'runs' ? -1 : (o.low_hours ?? Infinity))
  const expected = ({ option: o }: StationRow) => (o.state !== 'runs' ? -1 : (o.hours ?? Infinity))
  const columns: StationColumn[] = [
    {
      key: 'hours',
      label: 'Count on',
      value: countOn,
      text: ({ option: o }) => (o.state === 'runs' ? asText(o.low_hours) + (o.may ? ', may trip' : '') : o.words),
    },
    {
      key: 'expected',
      label: 'Probably',
      more: true,
      value: expected,
      text: ({ option: o }) => (o.state === 'runs' ? asText(o.hours) : ''),
    },
    { key: 'wh', label: 'Capacity', value: (r) => r.option.nominal_wh, text: (r) => kwh(r.option.nominal_wh) },
    {
      key: 'w',
      label: 'Continuous',
      value: (r) => r.station.continuous_w,
      text: (r) => `${number(r.station.continuous_w / 1000, 1)} kW`,
    },
    {
      key: 'surge',
      label: 'Surge',
      value: (r) => r.station.surge_va,
      text: (r) => `${number(r.station.surge_va / 1000, 1)} kVA`,
    },
    { key: 'idle', label: 'Own draw', value: ownDraw, text: (r) => `${percent(ownDraw(r))} per day` },
    {
      key: 'kg',
      label: 'Weight',
      value: (r) => r.station.weight_kg,
      text: (r) => listed(r.station.weight_kg, measured('mass', r.station.weight_kg)),
    },
    {
      key: 'price',
      label: 'Price',
      value: (r) => Number(r.option.price),
      text: (r) =>
        Number(r.option.price) === 0 && Number(r.station.price) > 0
          ? 'already owned'
          : listed(Number(r.station.price), money(r.option.price, r.station.currency)),
    },
  ]
  const more: StationColumn[] = [
    {
      key: 'perkwh',
      label: 'Price per kWh',
      value: perKwh,
      text: (r) => listed(Number(r.station.price), money(perKwh(r), r.station.currency)),
    },
    { key: 'grown', label: 'Expands to', value: (r) => grown(r.station), text: (r) => kwh(grown(r.station)) },
    {
      key: 'refill',
      label: 'Refill, wall',
      value: refill,
      text: (r) => (r.option.refill_h === null ? 'unlisted' : hoursText(r.option.refill_h)),
    },
    {
      key: 'sun',
      label: 'Solar input',
      value: (r) => sun(r.station),
      text: (r) => (sun(r.station) ? `${number(sun(r.station))} W` : 'none'),
    },
    ...noise('noise_idle_db', 'Noise, idle'),
    ...noise('noise_load_db', 'at load'),
    {
      key: 'years',
      label: 'Warranty',
      value: (r) => r.station.warranty_years,
      text: (r) => (r.station.warranty_years ? `${r.station.warranty_years} years` : 'not listed'),
    },
    {
      key: 'cycles',
      label: 'Cycles',
      value: (r) => r.station.cycle_life,
      text: (r) => (r.station.cycle_life ? number(r.station.cycle_life) : 'unlisted'),
    },
    {
      key: 'listed',
      label: 'Listed',
      value: (r) => (r.station.listed ? 1 : 0),
      text: (r) => r.station.listed || 'not listed',
    },
    {
      key: 'repair',
      label: 'Repairable',
      value: (r) => (r.station.repairable ? 1 : 0),
      text: (r) => r.station.repairable || 'not listed',
    },
  ]
  return [...columns, ...more.map((c) => ({ ...c, more: true }))]
}

function noise(key: 'noise_idle_db' | 'noise_load_db', label: string): StationColumn[] {
  return [
    { key, label, value: (r) => r.station[key], text: (r) => (r.station[key] ? `${r.station[key]} dB` : 'not listed') },
  ]
}
