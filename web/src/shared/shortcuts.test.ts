import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { effectScope, type EffectScope } from 'vue'
import { allShortcuts, handleKey, setLetters, useShortcuts } from './shortcuts'

let scope: EffectScope
const run = vi.fn()
const press = (key: string, more: KeyboardEventInit = {}, target: Element = document.body) => {
  const event = new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true, ...more })
  Object.defineProperty(event, 'target', { value: target })
  handleKey(event)
  return event.defaultPrevented
}

beforeEach(() => {
  run.mockClear()
  setLetters(true)
  scope = effectScope()
  scope.run(() =>
    useShortcuts([
      { keys: 'k', what: 'keep on', run: () => run('k') },
      { keys: 'Ctrl+z', what: 'undo', run: () => run('undo') },
      { keys: 'Ctrl+Shift+z', what: 'redo', run: () => run('redo') },
      { keys: '?', what: 'sheet', run: () => run('?') },
    ]),
  )
})
afterEach(() => scope.stop())

describe('keys', () => {
  it.each([
    ['k', {}, 'k'],
    ['K', {}, 'k'],
    ['z', { ctrlKey: true }, 'undo'],
    ['z', { metaKey: true }, 'undo'],
    ['Z', { ctrlKey: true, shiftKey: true }, 'redo'],
    ['?', { shiftKey: true }, '?'],
  ])('%s %j runs %s and is taken', (key, more, expected) => {
    expect(press(key, more)).toBe(true)
    expect(run).toHaveBeenCalledWith(expected)
  })

  it('leaves other keys alone', () => {
    expect(press('q')).toBe(false)
    expect(press('k', { altKey: true })).toBe(false)
    expect(run).not.toHaveBeenCalled()
  })

  it.each(['input', 'textarea', 'select'])('never fires in a %s', (tag) => {
    expect(press('k', {}, document.createElement(tag))).toBe(false)
    expect(run).not.toHaveBeenCalled()
  })

  it('single letters can be turned off; the sheet and those with Ctrl stay', () => {
    setLetters(false)
    press('k')
    expect(run).not.toHaveBeenCalled()
    press('?')
    press('z', { ctrlKey: true })
    expect(run.mock.calls.flat()).toEqual(['?', 'undo'])
    expect(localStorage.getItem('imbuto.letters')).toBe('off')
  })

  it('a place’s own key comes before the shell’s, and goes with the place', () => {
    const place = effectScope()
    place.run(() => useShortcuts([{ keys: 'k', what: 'mine', run: () => run('mine') }]))
    press('k')
    expect(allShortcuts()).toHaveLength(5)
    place.stop()
    press('k')
    expect(run.mock.calls.flat()).toEqual(['mine', 'k'])
  })
})
