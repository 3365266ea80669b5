import { describe, expect, it } from 'vitest'
import type { Run } from '@/shared/api/types'
import { click, element, mount, text, texts } from '@/testing/mount'
import CircuitStrips from './CircuitStrips.vue'
import HandCheck from './HandCheck.vue'
import MadeOf from './MadeOf.vue'
import WaterFall from './WaterFall.vue'

const run = {
  shown_h: 20,
  dark_h: 10,
  engine: [],
  back_h: [],
  paper_hours: 20.561,
  formula: '4,096 Wh × 0.9',
  why: 'Nearly the same.',
  factors: [
    { name: 'stored on the label', shown: '4,096 Wh', evidence: 'fact' },
    { name: 'cold', shown: '0.95', evidence: 'planning default' },
  ],
  strips: [
    {
      feed: 'a',
      name: 'Refrigerator',
      stance: 'keep_on',
      cycles: true,
      average_w: 58,
      pieces: [{ from_h: 0, to_h: 10, w: 58 }],
    },
    {
      feed: 'b',
      name: 'Reef',
      stance: 'turns',
      cycles: false,
      average_w: 120,
      pieces: [
        { from_h: 0, to_h: 2, w: 120 },
        { from_h: 8, to_h: 10, w: 30 },
      ],
    },
  ],
} as unknown as Run

describe('strips', () => {
  it('stand on the same axis as the curve, hatched for turns, and stop at the dark', () => {
    mount(CircuitStrips, { run })
    expect(texts('.who')).toEqual(['Refrigerator 58 W', 'Reef 120 W'])
    const [first, second, third] = [...document.querySelectorAll<HTMLElement>('.lane i')]
    expect([first?.className, second?.className]).toEqual(['keep_on cycles', 'turns'])
    expect([second?.style.left, third?.style.left]).toEqual(['0%', '40%'])
    expect(parseFloat(third?.style.height ?? '0')).toBeLessThan(parseFloat(second?.style.height ?? '0'))
    expect(element('.dark div').style.left).toBe('50%')
  })

  it('draw no dark where it never comes', () => {
    mount(CircuitStrips, { run: { ...run, dark_h: null } })
    expect(document.querySelector('.dark')).toBeNull()
  })
})

describe('the waterfall', () => {
  it('names every piece with its energy', () => {
    const drops = [
      { name: 'stored', wh: 12_400, kind: 'stored' },
      { name: 'idle', wh: -690, kind: 'loss' },
      { name: 'floor 10%', wh: -1240, kind: 'held' },
      { name: 'reaches your circuits', wh: 10_470, kind: 'reaches' },
    ]
    mount(WaterFall, { drops })
    expect(texts('li')).toEqual([
      'stored 12.4 kWh',
      'idle −0.69 kWh',
      'floor 10% −1.2 kWh',
      'reaches your circuits 10.5 kWh',
    ])
    const share = (kind: string) => Number(/([\d.]+)%/.exec(element(`.${kind} i`).style.width)?.[1]) / 100
    expect(share('stored')).toBeCloseTo(1) // one scale for all
    expect(share('held')).toBeCloseTo(1240 / 12_400)
    expect(share('reaches')).toBeCloseTo(10_470 / 12_400)
  })
})

describe('the hand check', () => {
  it('opens to its factors, defaults named as such', async () => {
    mount(HandCheck, { run })
    expect(text('.paper')).toContain('4,096 Wh × 0.9 = 20 h 30 m')
    expect(document.querySelector('dl')).toBeNull()
    await click('.link')
    expect(texts('dd')).toEqual(['4,096 Wh', '0.95 planning default'])
    await click('.link')
    expect(document.querySelector('dl')).toBeNull()
  })

  it('has no end where nothing draws', () => {
    mount(HandCheck, { run: { ...run, paper_hours: null } })
    expect(text('b')).toBe('no end, because nothing uses power')
  })
})

describe('what makes it unsure', () => {
  const parts = (...hours: number[]) =>
    ['loads', 'habits', 'weather', 'battery'].map((part, i) => ({ part, hours: hours[i] ?? 0 }))
  it('leads with the widest, says what to do about it, and leaves out what is nothing', () => {
    mount(MadeOf, { run: { ...run, made_of: parts(2.5, 4, 0, 0.05) } })
    expect(texts('.part')).toEqual(['habits ± 2 h agree on what stays off and when', 'load figures ± 1 h 15 m'])
    expect(element('.part:last-child i i').style.width).toBe('62.5%')
  })
  it('is not there where all is known', () => {
    mount(MadeOf, { run: { ...run, made_of: parts() } })
    expect(document.querySelector('.made')).toBeNull()
  })
})
