import { useHomeQuery } from '@/shared/session/homeQuery'

/** Everything there is to plan with, what of it is the home's own, and what the fields of an entry mean. */
export function useCatalogue() {
  return useHomeQuery('/api/homes/{home_id}/catalogue')
}
