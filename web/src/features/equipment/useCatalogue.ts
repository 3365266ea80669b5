import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { answer, api } from '@/shared/api/client'
import { useSession } from '@/shared/session/session'

/** Everything there is to plan with, what of it is the home's own, and what the fields of an entry mean. */
export function useCatalogue() {
  const { state, served } = useSession()
  return useQuery({
    queryKey: computed(() => ['catalogue', state.value?.id, served.value]),
    queryFn: () =>
      answer(api.GET('/api/homes/{home_id}/catalogue', { params: { path: { home_id: state.value?.id ?? '' } } })),
    enabled: computed(() => !!state.value),
    placeholderData: keepPreviousData,
  })
}
