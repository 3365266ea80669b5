import { nextTick } from 'vue'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { SunView } from '@/shared/api/types'
import { useSession } from '@/shared/session/session'
import { click, element, mount, text, texts } from '@/testing/mount'
import FoodList from '../hours/components/FoodList.vue'
import MountTable from './components/MountTable.vue'
import SkyTable from './components/SkyTable.vue'

const sky = Array.from({ length: 12 }, (_, i) => ({ month: i + 1, clear: 0.2, broken: 0.3, overcast: 0.4 }))
const view = (own: boolean) => ({ sky, own_sky: own }) as SunView
async function typed(label: string, value: string) {
  const field = element<HTMLInputElement>(`[aria-label="${label}"]`)
  field.value = value
  field.dispatchEvent(new Event('input', { bubbles: true }))
  field.dispatchEvent(new Event('change', { bubbles: true }))
  await nextTick()
  return field
}
beforeEach(() => (useSession().problem.value = ''))

describe('days of each month', () => {
  it('show what is left as stormy, and send one month with all the others', async () => {
    const change = vi.fn()
    mount(SkyTable, { view: view(false), climate: 'mild', onChange: change })
    expect(text('summary')).toContain('by climate: mild')
    expect(texts('td.soft')[0]).toBe('10')
    await typed('clear in Jan, %', '25')
    const [[ops, label]] = change.mock.calls as [[{ value: { month: number; clear: number }[] }[], string]]
    expect(label).toBe('Days of Jan')
    expect(ops[0]!.value).toHaveLength(12)
    expect(ops[0]!.value[0]!.clear).toBeCloseTo(0.25)
    expect(ops[0]!.value[1]!.clear).toBe(0.2)
  })
  it('refuse more than all days, and give the field back', async () => {
    const change = vi.fn()
    mount(SkyTable, { view: view(true), climate: 'mild', onChange: change })
    const field = await typed('overcast in Mar, %', '70')
    expect(change).not.toHaveBeenCalled()
    expect(useSession().problem.value).toContain('100% at most')
    expect(field.value).toBe('40')
    await click('button')
    expect(change).toHaveBeenCalledWith(
      [{ doc: 'home', op: 'replace', path: '/site/sky', value: [] }],
      'Days reset to climate',
    )
  })
})

it('compares mounts by room, angle, work and what to mind', () => {
  mount(MountTable)
  expect(texts('tbody tr')).toHaveLength(5)
  expect(text('.mounts')).toContain('For used panels')
})

describe('food', () => {
  const one = { load: 'r', name: 'Refrigerator', limit_c: 4, warmest_c: 13.46, over_h: 52.7, longest_off_h: 55.9,
    may_off_h: 3.2, fed: true, safe: false } // prettier-ignore
  it('tells how warm it gets, and how long it may rest', () => {
    mount(FoodList, {
      food: [one, { ...one, load: 'f', name: 'Freezer', limit_c: -1, warmest_c: -4, over_h: 0, safe: true }],
    })
    expect(texts('li')[0]).toContain('inside up to 13.5 °C, above 4 °C for 52 h 40 m')
    expect(texts('li')[0]).toContain('about 3 h 10 m')
    expect(texts('li')[1]).toContain('−4 °C')
    expect(document.querySelectorAll('.warm')).toHaveLength(1)
  })
  it('says what always has power, and what a cold room keeps', () => {
    mount(FoodList, { food: [{ ...one, longest_off_h: 0, safe: true, may_off_h: null }] })
    expect(text('li')).toContain('always has power')
    expect(text('li')).toContain('keeps by itself')
    mount(FoodList, { food: [] })
    expect(document.querySelector('.food')).toBeNull()
  })
})
