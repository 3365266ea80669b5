import { ref } from 'vue'

export type Theme = 'paper' | 'lamp'
const KEY = 'imbuto.theme'

export const theme = ref<Theme>(localStorage.getItem(KEY) === 'lamp' ? 'lamp' : 'paper')

export function applyTheme() {
  document.documentElement.dataset.theme = theme.value
}

export function setTheme(next: Theme) {
  theme.value = next
  localStorage.setItem(KEY, next)
  applyTheme()
}
