import { beforeEach, describe, expect, it, vi } from 'vitest'
import { circuit } from '@/testing/samples'
import { click, element, mount, press, texts } from '@/testing/mount'
import PanelDrawing, { type Drawn } from './PanelDrawing.vue'

const drawn: Drawn[] = [
  { circuit: circuit('range', [1, 3], { poles: 2 }), watts: 78, stance: 'off' },
  { circuit: circuit('lights', [5]), watts: 30, stance: 'keep_on' },
  { circuit: circuit('west', [6]), watts: 18, stance: 'turns' },
  { circuit: circuit('unknown', [7], { traced: false }), watts: 0, stance: 'off' },
]
const onSelect = vi.fn()
const onAdd = vi.fn()
const show = (more = {}) =>
  mount(PanelDrawing, { slots: 10, drawn, selected: 'lights', empty: true, onSelect, onAdd, ...more })
const box = (id: string) => element(`[data-circuit="${id}"]`)

beforeEach(() => {
  onSelect.mockClear()
  onAdd.mockClear()
  show()
})

describe('the panel as it hangs on the wall', () => {
  it('numbers the slots in two columns, and spans a double over its two rows', () => {
    expect(texts('.slot')).toEqual(['1', '2', '3', '4', '5', '6', '7', '8', '9', '10'])
    expect(box('range').style.gridRow).toBe('1 / span 2')
    expect([box('lights').style.gridColumn, box('west').style.gridColumn]).toEqual(['1', '4'])
  })

  it('tells stances by class and in words for a reader, and dashes what is not traced', () => {
    expect(box('lights').className).toContain('keep_on')
    expect(box('west').textContent).toContain('takes turns')
    expect(box('unknown').className).toContain('untraced')
    expect(box('unknown').textContent).toContain('15 A')
  })

  it('has one circuit to tab to: the selected one, else the first', () => {
    expect(texts('[data-circuit][tabindex="0"]')[0]).toContain('Circuit lights')
    show({ selected: null })
    expect(texts('[data-circuit][tabindex="0"]')[0]).toContain('Circuit range')
  })

  it.each([
    ['lights', 'ArrowUp', 'range'],
    ['lights', 'ArrowDown', 'unknown'],
    ['lights', 'ArrowRight', 'west'],
    ['west', 'ArrowLeft', 'lights'],
  ])('from %s, %s goes to %s', async (from, key, to) => {
    await press(box(from), key)
    expect(onSelect).toHaveBeenCalledWith(to)
  })

  it('stays where there is nowhere to go', async () => {
    await press(box('range'), 'ArrowUp')
    await press(box('west'), 'ArrowRight')
    expect(onSelect).not.toHaveBeenCalled()
  })

  it('selects on a click and offers the free slots', async () => {
    await click('[data-circuit="west"]')
    expect(onSelect).toHaveBeenCalledWith('west')
    expect(texts('.free')).toEqual(['+ slot 2', '+ slot 4', '+ slot 8', '+ slot 9', '+ slot 10'])
    await click('.free')
    expect(onAdd).toHaveBeenCalledWith(2)
    show({ empty: false })
    expect(texts('.free')).toEqual([])
  })

  it('shows a tandem as two halves of one slot, and steps through both', async () => {
    const twins = ['one', 'two'].map((id) => ({ circuit: circuit(id, [9], { tandem: true }), watts: 5 }))
    show({ drawn: [...drawn, ...twins], selected: 'one' })
    expect([box('one').className, box('two').className].map((c) => /first|second/.exec(c)?.[0])).toEqual([
      'first',
      'second',
    ])
    await press(box('one'), 'ArrowDown')
    expect(onSelect).toHaveBeenCalledWith('two')
  })
})
