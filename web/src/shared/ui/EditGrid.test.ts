import { beforeEach, describe, expect, it, vi } from 'vitest'
import { nextTick } from 'vue'
import { element, mount, press, text, texts } from '@/testing/mount'
import EditGrid, { type Cell, type Column } from './EditGrid.vue'

interface Row {
  id: string
  name: string
  w: number
}
const rows: Row[] = [
  { id: 'a', name: 'Lamp', w: 9 },
  { id: 'b', name: 'Fan', w: 40 },
]
const columns: Column<Row>[] = [
  { key: 'name', label: 'Load', text: (r) => r.name, raw: (r) => r.name },
  { key: 'w', label: 'Running', text: (r) => `${r.w} W`, raw: (r) => String(r.w), figure: true },
  { key: 'day', label: 'A day', text: (r) => `${24 * r.w} Wh`, figure: true },
]
const commit = vi.fn<(cells: Cell[]) => string>()
const here = () => element('td[tabindex="0"]')
const field = () => element<HTMLInputElement>('td input')

beforeEach(() => {
  commit.mockReset().mockReturnValue('')
  mount(EditGrid as never, { label: 'Loads', columns, rows, commit })
})

async function type(value: string) {
  field().value = value
  field().dispatchEvent(new Event('input'))
  await nextTick()
}

describe('a table edited in place', () => {
  it('shows cells, marks figures, and has one cell to tab to', () => {
    expect(texts('td')).toEqual(['Lamp', '9 W', '216 Wh', 'Fan', '40 W', '960 Wh'])
    expect(texts('[data-figure]')).toEqual(['9 W', '216 Wh', '40 W', '960 Wh'])
    expect(document.querySelectorAll('td[tabindex="0"]')).toHaveLength(1)
  })

  it('moves by arrows and stops at the edges', async () => {
    await press(here(), 'ArrowRight')
    await press(here(), 'ArrowDown')
    expect(here().textContent).toContain('40 W')
    for (let i = 0; i < 4; i++) await press(here(), 'ArrowDown')
    for (let i = 0; i < 4; i++) await press(here(), 'ArrowLeft')
    expect(here().textContent).toContain('Fan')
  })

  it.each(['Enter', 'F2'])('%s edits what is there; Enter commits and goes down', async (key) => {
    await press(here(), 'ArrowRight')
    await press(here(), key)
    expect(field().value).toBe('9')
    await type('12')
    await press(field(), 'Enter')
    expect(commit).toHaveBeenCalledWith([{ row: 'a', key: 'w', text: '12' }])
    expect(here().textContent).toContain('40 W')
  })

  it('Tab commits and goes on', async () => {
    await press(here(), 'ArrowRight')
    await press(here(), 'Enter')
    await type('7')
    await press(field(), 'Tab')
    expect(commit).toHaveBeenCalledWith([{ row: 'a', key: 'w', text: '7' }])
    expect(here().textContent).toContain('216 Wh')
  })

  it.each(['1', '4', 'k', 'm'])('leaves %s to the shortcuts: nothing is edited by accident', async (key) => {
    await press(here(), 'ArrowRight')
    await press(here(), key)
    expect(document.querySelector('td input')).toBeNull()
  })

  it('Esc leaves everything as it was', async () => {
    await press(here(), 'Enter')
    await type('Nonsense')
    await press(field(), 'Escape')
    expect(commit).not.toHaveBeenCalled()
    expect(document.querySelector('td input')).toBeNull()
  })

  it('says nothing where nothing was changed, and keeps the field open on a refusal', async () => {
    await press(here(), 'Enter')
    await press(field(), 'Enter')
    expect(commit).not.toHaveBeenCalled()
    commit.mockReturnValue('Lamp: no.')
    await press(here(), 'Enter')
    await type('x')
    await press(field(), 'Enter')
    expect(text('[role=alert]')).toBe('Lamp: no.')
    expect(field().getAttribute('aria-invalid')).toBe('true')
  })

  it('does not edit a computed cell', async () => {
    await press(here(), 'ArrowRight')
    await press(here(), 'ArrowRight')
    await press(here(), 'Enter')
    expect(document.querySelector('td input')).toBeNull()
  })

  it('takes a paste from a spreadsheet as one commit, over the cells that can be edited', () => {
    const event = new Event('paste', { bubbles: true, cancelable: true })
    Object.assign(event, { clipboardData: { getData: () => 'Light\t10\t99\r\nBlower\t50\t98\r\n' } })
    here().dispatchEvent(event)
    expect(commit).toHaveBeenCalledTimes(1)
    expect(commit.mock.calls[0]?.[0]).toEqual([
      { row: 'a', key: 'name', text: 'Light' },
      { row: 'a', key: 'w', text: '10' },
      { row: 'b', key: 'name', text: 'Blower' },
      { row: 'b', key: 'w', text: '50' },
    ])
  })
})
