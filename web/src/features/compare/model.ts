import type { components } from '@/shared/api/generated'
import { hoursText } from '@/shared/units/format'

export type CompareView = components['schemas']['CompareView']
export type PlanRow = CompareView['rows'][number]
export type Cell = PlanRow['cells'][number]

const STATES: Record<string, string> = {
  trips: 'will trip',
  refused: 'refused',
  carry_240: 'no 240 V',
  misfit: 'does not fit',
  too_cold: 'too cold',
  no_station: 'no station',
  nothing_chosen: 'nothing fed',
  no_loads: 'no loads',
}

/** The hours 9 in 10 runs exceed, or why there are none. */
export function hoursWords(c: Cell): string {
  if (!c.fits) return STATES[c.state] ?? c.state
  return c.low_h === null ? `over ${hoursText(c.simulated_h)}` : hoursText(c.low_h)
}
