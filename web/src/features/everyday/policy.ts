import type { EverydayPolicy } from '@/shared/api/types'

export const USES: Record<string, string> = {
  stand: 'stand full',
  sun: 'sun first',
  store: 'store first',
  charge: 'charge from the grid',
}
export const USE_SAYS: Record<string, string> = {
  stand: 'The grid carries, and the store is kept full for outages.',
  sun: 'The sun carries what it can; the grid carries the rest; the store is not used.',
  store: 'The store carries down to its hold; then the grid does.',
  charge: 'The grid carries, and fills the store.',
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
  sets_out: 'never',
  exports: '',
  no_grid: false,
}

/** The same week with another hold; the marks above it go along. */
export function withHold(policy: EverydayPolicy, hold: number): EverydayPolicy {
  const up = hold - policy.hold
  const moved = (mark: number) => Math.min(Math.max(mark + up, hold), 1)
  return { ...policy, hold, resume: moved(policy.resume), refill: moved(policy.refill) }
}
