import { onScopeDispose, ref, shallowRef } from 'vue'

export interface Shortcut {
  keys: string
  what: string
  run: () => void
}

const KEY = 'imbuto.letters'
/** Single-letter shortcuts can be turned off; those with Ctrl or ⌘ stay. */
export const lettersOn = ref(localStorage.getItem(KEY) !== 'off')

export function setLetters(on: boolean) {
  lettersOn.value = on
  localStorage.setItem(KEY, on ? 'on' : 'off')
}

// Shallow: a list is told from another by being itself.
const active = shallowRef<Shortcut[][]>([])

/** Every shortcut in force now, for the sheet. */
export const allShortcuts = () => active.value.flat()

/** Shortcuts that hold while the calling component is there. */
export function useShortcuts(list: Shortcut[]) {
  active.value = [...active.value, list]
  onScopeDispose(() => {
    active.value = active.value.filter((x) => x !== list)
  })
}

function inField(target: EventTarget | null): boolean {
  const element = target as HTMLElement | null
  return !!element?.closest('input, textarea, select, [contenteditable="true"], .el-select')
}

function name(event: KeyboardEvent): string {
  const ctrl = event.ctrlKey || event.metaKey
  const key = event.key.length === 1 ? event.key.toLowerCase() : event.key
  return `${ctrl ? 'Ctrl+' : ''}${ctrl && event.shiftKey ? 'Shift+' : ''}${key}`
}

export function handleKey(event: KeyboardEvent) {
  if (event.defaultPrevented || event.altKey || inField(event.target)) return
  if (document.querySelector('.el-overlay:not([style*="display: none"])') && event.key !== 'Escape') return
  const pressed = name(event)
  if (!pressed.startsWith('Ctrl+') && !lettersOn.value && pressed !== '?') return
  // The newest component's shortcuts come first: a place may use a key its own way.
  const found = [...active.value]
    .reverse()
    .flat()
    .find((s) => s.keys === pressed)
  if (!found) return
  event.preventDefault()
  found.run()
}
