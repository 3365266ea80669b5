import { watch } from 'vue'
import { answer, api } from '../api/client'
import { measures, measuresOf } from '../units/measures'
import { realServer } from './homeServer'
import { pageSession } from './pageSession'

export type { Conflict, GaugeLine, NewReading, Sent } from './waitingEdits'

const page = pageSession(realServer, localStorage)

document.addEventListener('visibilitychange', () => page.acts.tabSeen(document.hidden))
watch(
  page.fields.home,
  (home) => {
    if (home) measures.value = measuresOf(home.site)
  },
  { flush: 'sync' },
)

/** The open home and its verdict. */
export const useSession = () => page.fields

export const {
  open,
  close,
  edit,
  noteReading,
  noteGauge,
  heard,
  act,
  settle,
  undo,
  redo,
  choose,
  stepPlan,
  stepOutage,
} = page.acts

/** Note what came in over the broker as a reading. */
export function noteFromBroker(pick: string) {
  const path = (home_id: string) => ({ params: { path: { home_id, pick_id: pick } } })
  return act((home, body) =>
    answer(api.POST('/api/homes/{home_id}/broker/picks/{pick_id}/reading', { ...path(home), body })),
  )
}

/** Withdraw a reading; the next best one counts then. */
export function takeBack(reading: string) {
  const path = (home_id: string) => ({ params: { path: { home_id, reading_id: reading } } })
  return act((home, body) =>
    answer(api.POST('/api/homes/{home_id}/readings/{reading_id}/withdraw', { ...path(home), body })),
  )
}
