import { useLocalStorage } from '@vueuse/core'
import { computed } from 'vue'
import { answer, api } from './api/client'
import { useSession } from './session/session'

/** Which paper sheets are made for, how large their print, and whose hand; and where a sheet is to be had. */
export function usePaper() {
  const { state, home, pair, problem } = useSession()
  const asked = useLocalStorage('imbuto.paper', { paper: '', large: false, hand: '', strangers: false })
  const usual = computed(() => (home.value?.service.volts === 120 ? 'letter' : 'a4'))
  const size = computed({ get: () => asked.value.paper || usual.value, set: (v) => (asked.value.paper = v) })
  const at = computed(() => `/api/homes/${encodeURIComponent(state.value?.id ?? '')}`)
  function address(sheet: string, form: string, keep = false) {
    const said = new URLSearchParams({
      ...pair.value,
      paper: size.value,
      large: String(asked.value.large),
      hand: asked.value.hand,
      strangers: String(asked.value.strangers ?? false),
      keep: String(keep),
    })
    return `${at.value}/papers/${sheet}.${form}?${said.toString()}`
  }
  /** Have the server note that a sheet was opened to be printed. A disk that is full forbids the note, not the sheet. */
  async function noted(sheet: string) {
    const params = { path: { home_id: state.value?.id ?? '', sheet }, query: { ...pair.value } }
    try {
      await answer(api.POST('/api/homes/{home_id}/papers/{sheet}/printed', { params }))
    } catch (error) {
      problem.value = `Imbuto couldn’t record this print. ${error instanceof Error ? error.message : String(error)}`
    }
  }
  return { asked, size, at, address, noted }
}
