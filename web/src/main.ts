import '@fontsource-variable/atkinson-hyperlegible-next'
import '@fontsource-variable/bricolage-grotesque'
import './shared/styles/tokens.css'
import './shared/styles/base.css'
import { VueQueryPlugin } from '@tanstack/vue-query'
import { createApp } from 'vue'
import App from './app/App.vue'
import { giveOnEscape } from './app/library'
import { fetchAhead, router } from './app/router'
import { Refused } from './shared/api/client'
import { applyTheme } from './shared/theme'
import { kept } from '@/shared/ui/fields/kept'

/** A refusal is the answer; a server that is away is asked once more. */
const onceMore = (times: number, error: Error) => times < 1 && !(error instanceof Refused)

applyTheme()
document.addEventListener('keydown', giveOnEscape, true)
createApp(App)
  .use(router)
  .directive('kept', kept)
  .use(VueQueryPlugin, {
    queryClientConfig: {
      defaultOptions: { queries: { retry: onceMore, retryDelay: 400, refetchOnWindowFocus: false } },
    },
  })
  .mount('#app')

const AHEAD_MS = 1500
window.setTimeout(() => void fetchAhead(), AHEAD_MS)
