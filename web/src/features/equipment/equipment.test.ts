import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { FieldNote } from '@/shared/api/types'
import { measures } from '@/shared/units/measures'
import { bankWh, fieldWords, inWords, readFields, readText, shownOf, typedOf, valueText } from './model'

const note = (name: string, more: Partial<FieldNote> = {}): FieldNote => ({
  name, kind: 'number', limits: '0 to 50,000 W', default: '0', meaning: name, needed: false, choices: [], ...more,
}) // prettier-ignore
const notes = [
  note('id', { kind: 'text', needed: true }),
  note('name', { kind: 'text', needed: true, limits: '' }),
  note('idle_w', { needed: true }),
  note('heater', { kind: 'true or false' }),
  note('surge_s', { kind: 'number or null', default: 'null' }),
]

it.each([
  ['nominal_wh', 'nominal', 'Wh'],
  ['w', 'w', 'W'],
  ['voc_v', 'Voc', 'V'],
  ['vmp_percent_c', 'vmp', '% per °C'],
  ['cycle_life', 'cycle life', ''],
])('%s reads as %s in %s', (name, words, unit) => expect(fieldWords(name)).toEqual({ words, unit }))

it.each([
  ['nominal_wh', 12400, '12,400 Wh'],
  ['volts', '120/240', '120/240 V'],
  ['kind', 'manual_switch', 'manual switch'],
  ['automatic', false, 'no'],
  ['surge_s', null, '–'],
])('%s of %j is written %s', (name, value, text) => expect(valueText(name, value)).toBe(text))

describe('in the measures of the home', () => {
  const notes = [note('weight_kg'), note('cold_c'), note('half_l_h'), note('cord_m')]
  beforeEach(() => (measures.value = { system: 'us', clock: 12 }))
  afterEach(() => (measures.value = { system: 'metric', clock: 12 }))
  it.each([
    ['weight_kg', 58, '128 lb'],
    ['half_l_h', 0.6, '0.16 gal/h'],
    ['start_lowest_c', -20, '−4 °F'],
    ['fuel', 'petrol', 'gasoline'],
  ])('%s of %j is written %s', (name, value, text) => expect(valueText(name, value)).toBe(text))
  it('comes back as it was typed, and is kept metric', () => {
    const typed = { weight_kg: '128', cold_c: '-4 °F', half_l_h: '0.6 l/h', cord_m: '10 m' }
    const { entry, problem } = readFields(notes, typed)
    expect(problem).toBe('')
    expect(entry.weight_kg).toBeCloseTo(58.06, 2)
    expect(entry).toMatchObject({ cold_c: -20, half_l_h: 0.6, cord_m: 10 })
    expect(typedOf(notes, entry)).toEqual({ weight_kg: '128', cold_c: '-4', half_l_h: '0.16', cord_m: '32.81' })
    expect(inWords('weight_kg', '0.1 to 100 kg')).toBe('0.22 to 220.46 lb')
    expect(inWords('running_w', '1 to 100 W')).toBe('1 to 100 W')
  })
})

describe('what was typed', () => {
  beforeEach(() => vi.clearAllMocks())
  it('becomes an entry, empty fields left to their defaults', () => {
    const typed = { id: 'jug', name: ' Jug ', idle_w: '15 W', heater: 'yes', surge_s: '' }
    expect(readFields(notes, typed)).toEqual({
      entry: { id: 'jug', name: 'Jug', idle_w: 15, heater: true },
      problem: '',
    })
  })
  it.each([
    [{ name: '', idle_w: '1' }, 'name: enter a value.'],
    [{ name: 'Jug', idle_w: '' }, 'idle: enter a value, 0 to 50,000 W.'],
    [{ name: 'Jug', idle_w: 'little' }, 'idle: “little” isn’t a number.'],
  ])('%j is refused', (typed, problem) =>
    expect(readFields(notes, { id: 'jug', ...typed } as Record<string, string>).problem).toBe(problem),
  )
  it('goes there and back', () => {
    const entry = { id: 'a', name: 'A', idle_w: 3, heater: false, surge_s: null }
    expect(readFields(notes, typedOf(notes, entry)).entry).toEqual({ id: 'a', name: 'A', idle_w: 3, heater: false })
  })
})

describe('a bank in amp-hours', () => {
  it.each([
    ['12.8 V 100 Ah', 1280],
    ['51,2 V 100 Ah', 5120],
    ['12.8 V 100 Ah, 4 in series, 2 parallel', 10240],
    ['3.2V 280Ah 16s2p', 28672],
  ])('%s', (text, wh) => {
    expect(bankWh(text)).toEqual({ wh: expect.closeTo(wh, 6) as number, problem: '' })
  })
  it('is refused without volts, and is none without amp-hours', () => {
    expect(bankWh('200 Ah')?.problem).toContain('need volts')
    expect(bankWh('1280')).toBeNull()
  })
})

describe('what a reader gives', () => {
  const read = { weight_kg: '12.7', discharge_min_c: '-20', tank_l: '3.79', half_l_h: '0.946', depth_m: '0.46' }
  const all = Object.keys(read).map((n) => note(n))
  afterEach(() => (measures.value = { system: 'metric', clock: 12 }))

  it.each(['us', 'metric'] as const)('is kept as it was read, in a home that speaks %s', (system) => {
    measures.value = { system, clock: 12 }
    const { entry, problem } = readFields(all, shownOf(read))
    expect(problem).toBe('')
    for (const [name, value] of Object.entries(read)) expect(entry[name]).toBeCloseTo(Number(value), 2)
  })
  it('stands in the fields as the label said it', () => {
    measures.value = { system: 'us', clock: 12 }
    expect(shownOf(read)).toMatchObject({ weight_kg: '28', discharge_min_c: '-4' })
    expect(readText('weight_kg', '12.7')).toBe('28 lb')
    expect(readText('discharge_min_c', '-20')).toBe('−4 °F')
  })
})
