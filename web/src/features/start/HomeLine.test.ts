import { VueQueryPlugin } from '@tanstack/vue-query'
import { createApp, h } from 'vue'
import { createMemoryHistory, createRouter } from 'vue-router'
import { expect, it, vi } from 'vitest'
import { api } from '@/shared/api/client'
import HomeLine from './HomeLine.vue'

it('gives up its question when the page is left, so that the next page does not wait behind every home', async () => {
  const asked: AbortSignal[] = []
  vi.spyOn(api, 'GET').mockImplementation(((_: string, init: { signal: AbortSignal }) => {
    asked.push(init.signal)
    return new Promise(() => undefined) // never answered
  }) as never)
  document.body.innerHTML = '<ul id="here"></ul>'
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [{ path: '/:rest(.*)', component: { render: () => null } }],
  })
  const app = createApp({ render: () => h(HomeLine, { id: 'lakehouse', name: 'Lake house' }) })
    .use(router)
    .use(VueQueryPlugin)
  app.mount('#here')
  await vi.waitFor(() => expect(asked).toHaveLength(1))
  expect(asked[0]?.aborted).toBe(false)
  app.unmount()
  await vi.waitFor(() => expect(asked[0]?.aborted).toBe(true))
})
