/**
 * A select of the library keeps Esc to itself though its list is closed, and whoever stands on it could not close the dialog
 * around it: given on to what is around.
 */
export function giveOnEscape(event: KeyboardEvent) {
  const field = event.target
  if (event.key !== 'Escape' || !(field instanceof HTMLElement)) return
  if (!field.matches('.el-select__input[aria-expanded="false"]')) return
  event.stopImmediatePropagation()
  const around = field.closest('.el-select')?.parentElement
  around?.dispatchEvent(
    new KeyboardEvent('keydown', { key: 'Escape', code: 'Escape', bubbles: true, cancelable: true }),
  )
}
