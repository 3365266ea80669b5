import fc from 'fast-check'
import { expect, it } from 'vitest'
import { nextTick, ref } from 'vue'
import { createMemoryHistory, createRouter } from 'vue-router'
import { keepPairInAddress, type ShownPair } from './pairInAddress'

const PAGES = ['house', 'hours', 'everyday', 'live']
const wait = (ms: number) => new Promise((done) => setTimeout(done, ms))

type Act =
  { kind: 'click'; page: string; withPair: boolean } | { kind: 'pair'; n: number } | { kind: 'wait'; ms: number }

it('shows the page that was clicked last, with the pair in its address, whatever comes in between', async () => {
  const acts = fc.array(
    fc.oneof(
      fc.record({ kind: fc.constant('click' as const), page: fc.constantFrom(...PAGES), withPair: fc.boolean() }),
      fc.record({ kind: fc.constant('pair' as const), n: fc.integer({ min: 0, max: 3 }) }),
      fc.record({ kind: fc.constant('wait' as const), ms: fc.constantFrom(0, 1, 3) }),
    ),
    { minLength: 1, maxLength: 12 },
  )
  await fc.assert(
    fc.asyncProperty(acts, fc.constantFrom(0, 2, 4), async (list: Act[], slow) => {
      let navigations = 0
      const router = createRouter({
        history: createMemoryHistory(),
        routes: PAGES.map((name) => ({
          path: `/home/:home/${name}`,
          name,
          component: async () => {
            await wait(slow)
            return { render: () => null }
          },
        })),
      })
      const pair = ref<ShownPair>({ plan: '', outage: '' })
      keepPairInAddress(router, pair)
      router.beforeEach(() => {
        navigations += 1
        // A page that is busy with its own address answers nobody: that is a failure, not a wait.
        if (navigations > 200) throw new Error('the address is written for ever')
      })
      let last = 'house'
      await router.push('/home/a/house')
      for (const act of list) {
        if (act.kind === 'click') {
          last = act.page
          void router.push({
            name: last,
            params: { home: 'a' },
            query: act.withPair ? { ...router.currentRoute.value.query } : {},
          })
        } else if (act.kind === 'pair') {
          pair.value = { plan: `p${act.n}`, outage: 'o' }
        } else await wait(act.ms)
      }
      for (let i = 0; i < 40; i++) {
        await wait(1)
        await nextTick()
      }
      const { name, query } = router.currentRoute.value
      expect(name).toBe(last)
      expect(query.plan ?? '').toBe(pair.value.plan)
      expect(navigations).toBeLessThan(60)
    }),
    { numRuns: 60 },
  )
}, 30_000)
