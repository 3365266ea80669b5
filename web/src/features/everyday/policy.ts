import type { EverydayPolicy } from '@/shared/api/types'

export const USES: Record<string, string> = {
  stand: 'stay full',
  sun: 'sun first',
  store: 'battery first',
  charge: 'charge from the grid',
  surplus: 'charge from the roof’s surplus',
}
export const USE_SAYS: Record<string, string> = {
  stand: 'The grid powers the loads, and the battery stays full for outages.',
  sun: 'Solar power runs the loads as far as it can, and the grid does the rest. The battery isn’t used.',
  store: 'The battery powers the loads down to the share kept for outages. Then the grid does.',
  charge: 'The grid powers the loads and charges the battery.',
  surplus: 'The grid powers the loads. The battery charges from solar power that the house doesn’t use.',
}
export const COST_KINDS: Record<string, string> = {
  equipment: 'equipment',
  cable: 'cable',
  rails: 'rails',
  labour: 'labor',
  permit: 'permit',
  inspection: 'inspection',
  delivery: 'delivery',
  tax: 'tax',
  other: 'other',
}
export const BY: Record<string, string> = { itself: 'by itself', app: 'in its app', hand: 'by hand' }
export const STANDING: EverydayPolicy = {
  rest: 'stand',
  called: '',
  modes: {},
  hold: 0.5,
  resume: 0.55,
  refill: 0.5,
  charge_w: null,
  by: 'itself',
  who: '',
  misses: 0,
  back_at: null,
  sets_out: 'never',
  exports: '',
  no_grid: false,
  circuits: {},
}

/** The same week with another hold; the marks above it go along. */
export function withHold(policy: EverydayPolicy, hold: number): EverydayPolicy {
  const up = hold - policy.hold
  const moved = (mark: number) => Math.min(Math.max(mark + up, hold), 1)
  const back_at = policy.back_at == null ? null : moved(policy.back_at)
  return { ...policy, hold, resume: moved(policy.resume), refill: moved(policy.refill), back_at }
}
