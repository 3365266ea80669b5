import type { Directive } from 'vue'

type Field = HTMLInputElement & { kept?: string }

/**
 * A field's value, as :value would set it, but never over what someone is typing: an answer of the server that comes in
 * meanwhile waits until the field is left.
 */
export const kept: Directive<Field, string | number | null> = {
  mounted(field, { value }) {
    field.value = field.kept = String(value ?? '')
    field.addEventListener('change', () => (field.kept = field.value))
  },
  updated(field, { value }) {
    const next = String(value ?? '')
    const typing = document.activeElement === field && field.value !== field.kept
    if (typing) return
    if (field.value !== next) field.value = next
    field.kept = next
  },
}
