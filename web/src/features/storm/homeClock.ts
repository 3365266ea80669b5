import { useIntervalFn } from '@vueuse/core'
import { computed, ref, watch, type Ref } from 'vue'
import { homeNow } from '@/shared/units/homeTime'
import { useSession } from '@/shared/session/session'

/** A moment as ISO without a zone, as it reads on the clock. */
export const isoLocal = (at: Date) => homeNow(undefined, at)

/**
 * The home's own time, as an ISO moment without a zone. It goes on from what the server said last, as fast as the watched
 * station's clock where there is one, so that a page that hears nothing for a while still knows it.
 */
export function useHomeClock(said: Ref<string | undefined>) {
  const { station, home } = useSession()
  const from = ref({ at: said.value, heard: performance.now() })
  watch(said, (at) => (from.value = { at, heard: performance.now() }), { immediate: true })
  const ticks = ref(performance.now())
  useIntervalFn(() => (ticks.value = performance.now()), 1000)
  function now(): string {
    const watched = station.value
    const at = watched?.at ?? from.value.at
    if (!at) return homeNow(home.value?.site.time_zone)
    const heard = watched?.at ? watched.heard : from.value.heard
    const speed = watched?.at ? watched.speed : 1
    return isoLocal(new Date(new Date(at).getTime() + (performance.now() - heard) * speed))
  }
  return { now, shown: computed(() => (ticks.value, now())) }
}
