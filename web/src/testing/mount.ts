import { kept } from '@/shared/ui/fields/kept'
import { createApp, h, nextTick, type App, type Component } from 'vue'
import { createMemoryHistory, createRouter } from 'vue-router'

let app: App | null = null
const nothing = { render: () => null }

/** A component on a page of its own, with a router; what it emits is collected. */
export function mount(
  component: Component,
  props: Record<string, unknown> = {},
  slots: Record<string, () => unknown> = {},
) {
  app?.unmount()
  document.body.innerHTML = '<div id="here"></div>'
  const router = createRouter({
    history: createMemoryHistory(),
    routes: ['/', '/house', '/chosen', '/source', '/hours', '/whole', '/meters', '/goals', '/walk'].map((path) => ({
      path,
      name: path.slice(1) || 'first',
      component: nothing,
    })),
  })
  app = createApp({ render: () => h(component, props, slots) })
    .use(router)
    .directive('kept', kept)
  app.mount('#here')
  return document.body
}

/** What a person reads: the pieces of text with a blank between them. */
function read(root: Element | null): string {
  if (!root) return ''
  const pieces: string[] = []
  const walker = document.createTreeWalker(root, NodeFilter.SHOW_TEXT)
  while (walker.nextNode()) pieces.push(walker.currentNode.textContent ?? '')
  return pieces
    .join(' ')
    .replace(/\s+/g, ' ')
    .replace(/ ([,.;:])/g, '$1')
    .trim()
}
export const text = (selector: string) => read(document.querySelector(selector))
export const texts = (selector: string) => [...document.querySelectorAll(selector)].map(read)
export function element<T extends HTMLElement = HTMLElement>(selector: string): T {
  const found = document.querySelector<T>(selector)
  if (!found) throw new Error(`nothing matches ${selector}`)
  return found
}
export async function press(target: HTMLElement, key: string, more: KeyboardEventInit = {}) {
  target.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true, ...more }))
  await nextTick()
  await nextTick()
}
/** Type into a field and leave it. */
export async function type(selector: string, value: string) {
  const field = element<HTMLInputElement>(selector)
  field.value = value
  field.dispatchEvent(new Event('input', { bubbles: true }))
  field.dispatchEvent(new Event('change', { bubbles: true }))
  await nextTick()
}
/** The choices of the library's select of that label or id, opened. */
export async function choices(label: string): Promise<HTMLElement[]> {
  await nextTick() // the library sets a field's id once it stands
  const field = element<HTMLInputElement>(`input[aria-label="${label}"], input[id="${label}"]`)
  field.closest<HTMLElement>('.el-select__wrapper')?.click()
  for (let i = 0; i < 3; i++) await nextTick()
  const list = document.getElementById(field.getAttribute('aria-controls') ?? '')
  return [...(list?.querySelectorAll<HTMLElement>('[role=option]') ?? [])]
}
/** Choose what reads so. */
export async function choose(label: string, words: string) {
  const found = (await choices(label)).find((o) => read(o) === words)
  if (!found) throw new Error(`${label} offers no ${words}, but ${(await choices(label)).map(read).join('; ')}`)
  found.click()
  await nextTick()
}
export const reads = (e: Element) => read(e)
export async function submit(selector: string) {
  element(selector).dispatchEvent(new Event('submit', { bubbles: true, cancelable: true }))
  await nextTick()
}
/** The button or link that says so. */
export function saying(words: string, selector = 'button'): HTMLElement {
  const found = [...document.querySelectorAll<HTMLElement>(selector)].find((e) => read(e).includes(words))
  if (!found) throw new Error(`no ${selector} says ${words}`)
  return found
}
export async function click(selector: string) {
  element(selector).click()
  await nextTick()
}
