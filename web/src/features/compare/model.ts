import type { components } from '@/shared/api/generated'
import { hoursText } from '@/shared/units/format'

export type CompareView = components['schemas']['CompareView']
export type PlanRow = CompareView['rows'][number]
export type Cell = PlanRow['cells'][number]

/** The hours 9 in 10 runs exceed, or why there are none. */
export function hoursWords(c: Cell): string {
  if (!c.fits) return c.words
  return c.low_h === null ? `over ${hoursText(c.simulated_h)}` : hoursText(c.low_h)
}
