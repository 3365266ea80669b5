import { usePreferredDark } from '@vueuse/core'
import { computed, ref, watchEffect } from 'vue'

export type Theme = 'paper' | 'lamp'
const KEY = 'imbuto.theme'

const kept = localStorage.getItem(KEY)
/** What somebody chose on this device; until then the device's own dark setting decides. */
const chosen = ref<Theme | null>(kept === 'lamp' || kept === 'paper' ? kept : null)
const dark = usePreferredDark()

export const theme = computed<Theme>(() => chosen.value ?? (dark.value ? 'lamp' : 'paper'))

export function applyTheme() {
  watchEffect(() => (document.documentElement.dataset.theme = theme.value))
}

export function setTheme(next: Theme) {
  chosen.value = next
  localStorage.setItem(KEY, next)
}
