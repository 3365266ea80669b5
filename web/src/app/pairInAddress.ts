import { watch, type Ref } from 'vue'
import { isNavigationFailure, NavigationFailureType, type Router } from 'vue-router'

export interface ShownPair {
  plan: string
  outage: string
}

/**
 * Keep the pair that is shown in the address of a home's pages, so that a link or a reload shows the same.
 *
 * Writing it is a navigation, and a newer navigation takes back an older one. So it is written in a turn of its own,
 * when what was clicked before has begun, and only while no page is being opened: then it is over before the next click.
 */
export function keepPairInAddress(router: Router, pair: Readonly<Ref<ShownPair>>): void {
  let opening = false
  let due = false

  function write() {
    due = false
    const { params, query } = router.currentRoute.value
    if (opening || typeof params.home !== 'string' || !pair.value.plan) return
    if (query.plan === pair.value.plan && query.outage === pair.value.outage) return
    void router.replace({ query: { ...query, ...pair.value } })
  }
  function writeSoon() {
    if (!due) setTimeout(write)
    due = true
  }

  router.beforeEach(() => {
    opening = true
  })
  router.afterEach((_to, _from, failure) => {
    // One that was taken back says nothing: the newer one's end is what counts.
    if (isNavigationFailure(failure, NavigationFailureType.cancelled)) return
    opening = false
    writeSoon()
  })
  router.onError(() => (opening = false))
  watch(pair, writeSoon, { deep: true })
}
