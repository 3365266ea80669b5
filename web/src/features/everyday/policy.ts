import type { EverydayPolicy } from '@/shared/api/types'

export const USES: Record<string, string> = {
  stand: 'stay full',
  sun: 'sun first',
  store: 'battery first',
  charge: 'charge from the grid',
  surplus: 'charge from the roof’s surplus',
}
export const USE_SAYS: Record<string, string> = {
  stand: 'The grid carries the loads, and the battery is kept full for outages.',
  sun: 'The sun carries what it can, the grid the rest. The battery is not used.',
  store: 'The battery carries the loads down to what you keep for outages. Then the grid does.',
  charge: 'The grid carries the loads and charges the battery.',
  surplus: 'The grid carries the loads. The battery charges with what the roof makes beyond what the house uses.',
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
}

/** The same week with another hold; the marks above it go along. */
export function withHold(policy: EverydayPolicy, hold: number): EverydayPolicy {
  const up = hold - policy.hold
  const moved = (mark: number) => Math.min(Math.max(mark + up, hold), 1)
  const back_at = policy.back_at == null ? null : moved(policy.back_at)
  return { ...policy, hold, resume: moved(policy.resume), refill: moved(policy.refill), back_at }
}
