import type { Tariff, Window } from '@/shared/api/types'

/** How most bills are made up: one price, two by the hour, or dearer above a use. */
export type Shape = 'one' | 'night' | 'peak' | 'tiers'

export interface Prices {
  id: string
  name: string
  since: string
  /** By day, outside peak hours, or at all hours. */
  price: number
  /** By night, in peak hours, or what each kWh above the tier costs more. */
  other: number
  above: number
  fixed: number
  window: Window
}

/** A tariff of a shape, with the prices of a bill. */
export function tariffOf(shape: Shape, p: Prices): Tariff {
  const rates: Record<string, unknown> = {
    all: {
      id: 'all',
      name: { one: 'All hours', night: 'Day', peak: 'Off-peak', tiers: 'All hours' }[shape],
      price: p.price,
      windows: [],
      months: [],
    },
  }
  if (shape === 'night' || shape === 'peak') {
    const name = shape === 'night' ? 'Night' : 'Peak'
    rates[shape] = { id: shape, name, price: p.other, windows: [p.window], months: [] }
  }
  const tiers = shape === 'tiers' ? [{ above_kwh: p.above, more: p.other }] : []
  return { id: p.id, name: p.name, since: p.since, rates, tiers, fixed: p.fixed } as unknown as Tariff
}
