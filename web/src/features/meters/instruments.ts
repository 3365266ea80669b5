import { useIntervalFn } from '@vueuse/core'
import { computed, onMounted, ref, shallowRef, type ComputedRef, type Ref, type ShallowRef } from 'vue'
import { answer, api } from '@/shared/api/client'
import type { InstrumentsView } from '@/shared/api/types'
import { useSession } from '@/shared/session/session'

export interface Change {
  speed?: number
  plug?: string
  unplug?: boolean
  breakers?: Record<string, boolean>
}

export interface Bench {
  seen: ShallowRef<InstrumentsView | null>
  none: Ref<string>
  set: (change: Change) => Promise<void>
  clock: ComputedRef<string>
}

const POLL_MS = 1000

/** The simulated instruments, read every second while the page is open. */
export function useInstruments(): Bench {
  const { state } = useSession()
  const seen = shallowRef<InstrumentsView | null>(null)
  const none = ref('')
  const path = () => ({ path: { home_id: state.value?.id ?? '' } })

  async function take(call: Promise<InstrumentsView>) {
    try {
      seen.value = await call
      none.value = ''
    } catch (error) {
      none.value = error instanceof Error ? error.message : String(error)
    }
  }
  const read = () => take(answer(api.GET('/api/homes/{home_id}/instruments', { params: path() })))
  const set = (change: Change) =>
    take(
      answer(
        api.POST('/api/homes/{home_id}/instruments', {
          params: path(),
          body: { unplug: false, breakers: {}, ...change },
        }),
      ),
    )
  const clock = computed(() => seen.value?.at ?? '')
  onMounted(read)
  useIntervalFn(() => void (!none.value && read()), POLL_MS)
  return { seen, none, set, clock }
}

export const SPEED_WORDS: Record<number, string> = {
  1: 'real time',
  60: 'an hour per minute',
  1440: 'a day per minute',
}
