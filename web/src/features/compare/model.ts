import type { components } from '@/shared/api/generated'

export type CompareView = components['schemas']['CompareView']
export type PlanRow = CompareView['rows'][number]
export type Cell = PlanRow['cells'][number]

/** The hours to count on, or why there are none. */
export function hoursWords(c: Cell): string {
  return [c.headline.label, c.headline.figure].filter(Boolean).join(' ')
}
