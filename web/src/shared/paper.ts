import { useLocalStorage } from '@vueuse/core'
import { computed } from 'vue'
import { useSession } from './session/session'

/** Which paper sheets are made for, how large their print, and whose hand; and where a sheet is to be had. */
export function usePaper() {
  const { state, home, pair } = useSession()
  const asked = useLocalStorage('imbuto.paper', { paper: '', large: false, hand: '' })
  const usual = computed(() => (home.value?.service.volts === 120 ? 'letter' : 'a4'))
  const size = computed({ get: () => asked.value.paper || usual.value, set: (v) => (asked.value.paper = v) })
  const at = computed(() => `/api/homes/${encodeURIComponent(state.value?.id ?? '')}`)
  function address(sheet: string, form: string, keep = false) {
    const said = new URLSearchParams({
      ...pair.value,
      paper: size.value,
      large: String(asked.value.large),
      hand: asked.value.hand,
      keep: String(keep),
    })
    return `${at.value}/papers/${sheet}.${form}?${said.toString()}`
  }
  return { asked, size, at, address }
}
