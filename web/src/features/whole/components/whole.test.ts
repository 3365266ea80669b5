import { beforeEach, describe, expect, it, vi } from 'vitest'
import { useSession } from '@/shared/session/session'
import { mount, saying, submit, text, texts, type } from '@/testing/mount'
import { home, homeState, load } from '@/testing/samples'
import { nextTick } from 'vue'
import BillField from './BillField.vue'
import WholeTable from './WholeTable.vue'

const session = vi.hoisted(() => ({ noteReading: vi.fn() }))
vi.mock('@/shared/session/session', async (original) => ({ ...(await original<object>()), ...session }))

beforeEach(() => session.noteReading.mockClear())

describe('a bill', () => {
  const fill = async (kwh: string, from: string, to: string) => {
    mount(BillField)
    await type('[aria-label="kWh on the bill"]', kwh)
    await type('[aria-label="First day of the bill"]', from)
    await type('[aria-label="Last day of the bill"]', to)
    await submit('form')
  }

  it('is noted for the whole house, over its days', async () => {
    await fill('912,5', '2026-10-02', '2026-11-01')
    expect(session.noteReading).toHaveBeenCalledWith({ text: 'bill 912.5 kWh 2026-10-02 to 2026-11-01', home: true })
  })

  it.each([
    ['much', '2026-10-02', '2026-11-01', '“much” isn’t a number'],
    ['0', '2026-10-02', '2026-11-01', 'more than 0 kWh'],
    ['912', '', '2026-11-01', 'its first and last day'],
    ['912', '2026-10-30', '2026-11-01', '2 days. A bill covers 7 to 366'],
    ['912', '2026-11-01', '2026-10-02', '-30 days. A bill covers'],
  ])('%s kWh from %s to %s is refused', async (kwh, from, to, words) => {
    await fill(kwh, from, to)
    expect(text('[role=alert]')).toContain(words)
    expect(session.noteReading).not.toHaveBeenCalled()
  })
})

describe('the loads of the whole house', () => {
  const row = (id: string, day_wh: number, night_wh: number, more = {}) => ({
    id,
    day_wh,
    night_wh,
    heating: false,
    word: 'steady draw' as const,
    nowhere: '',
    ...more,
  })
  const rows = [
    row('kettle', 300, 0, { heating: true, word: 'short use' as const }),
    row('fridge', 700, 700),
    row('chime', 0, 0, { nowhere: 'no watts entered' }),
  ]
  const names = () => texts('tbody th')
  beforeEach(() => {
    const loads = [
      load('kettle', { run_w: 1500 }),
      load('fridge', { run_w: 131, count: 2 }),
      load('chime', { run_w: 0 }),
    ]
    useSession().state.value = homeState(1, { home: home([], loads) })
    mount(WholeTable, { loads: rows })
  })

  it('stand by what they take, with words for battery and what counts nowhere', () => {
    expect(names()).toEqual(['Fridge', 'Kettle', 'Chime'])
    expect(texts('tbody tr')[0]).toBe('Fridge 1.4 kWh 0.7 kWh 262 W steady draw guess')
    expect(texts('tbody tr')[1]).toContain('1,500 W heats short use')
    expect(texts('.word')[2]).toBe('no watts entered')
  })

  it('sort by any figure or by name', async () => {
    for (const [head, first] of [
      ['Running', 'Kettle'],
      ['Load', 'Chime'],
      ['of it at night', 'Fridge'],
    ] as const) {
      saying(head).click()
      await nextTick()
      expect(names()[0]).toBe(first)
    }
  })
  it('show the ten largest first, and all of them on demand', async () => {
    expect(document.querySelector('[aria-expanded]')).toBeNull()
    mount(WholeTable, { loads: Array.from({ length: 12 }, (_, i) => row(`l${i}`, i, 0)) })
    expect(names()).toHaveLength(10)
    expect(names()[0]).toBe('l11')
    saying('Show all 12 loads').click()
    await nextTick()
    expect(names()).toHaveLength(12)
    saying('Show the 10 at the top').click()
    await nextTick()
    expect(names()).toHaveLength(10)
  })
})
