import { createPinia } from 'pinia'

/** The one there is, so that what is no component finds it too. */
export const pinia = createPinia()
