import { useIntervalFn } from '@vueuse/core'
import { computed, ref, watch, type Ref } from 'vue'
import { useSession } from '@/shared/session/session'

/** A moment as ISO without a zone, as it reads on the clock. */
export const isoLocal = (at: Date) =>
  new Date(at.getTime() - at.getTimezoneOffset() * 60_000).toISOString().slice(0, 19)

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
    // Swedish writes a moment as ISO does.
    if (!at) return new Date().toLocaleString('sv', { timeZone: home.value?.site.time_zone }).replace(' ', 'T')
    const heard = watched?.at ? watched.heard : from.value.heard
    const speed = watched?.at ? watched.speed : 1
    return isoLocal(new Date(new Date(at).getTime() + (performance.now() - heard) * speed))
  }
  return { now, shown: computed(() => (ticks.value, now())) }
}
