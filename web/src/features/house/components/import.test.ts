import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { ChannelView, Setting } from '@/shared/api/types'
import { useSession } from '@/shared/session/session'
import { click, element, mount, saying, text, texts, type, choose } from '@/testing/mount'
import { circuit, home, homeState, load } from '@/testing/samples'
import LogDrawing from '@/shared/ui/LogDrawing.vue'
import { guess } from '../importing'
import ImportChannel from './ImportChannel.vue'
import SettingsEditor from '@/features/house/components/loads/SettingsEditor.vue'

const winter: Setting = {
  id: 'winter',
  name: 'Winter',
  average_w: 70,
  rest_w: 0,
  run_w: 131,
  season: 'cold',
  evidence: 'guess',
  spread: null,
}
const house = home([circuit('office', [7], { name: 'Office' })], [load('fridge', { settings: { winter } })])
const part = { kind: 'main' as const, w: 127, duty: 0.42, starts_a_day: 33.5, minutes: 18 }
const channel: ChannelView = {
  name: 'fridge W',
  samples: 7200,
  shape: 'cycling',
  start: '2026-11-13T08:00:00Z',
  hours: 120,
  gaps: 2,
  average_w: 57.2,
  rest_w: 4,
  run_w: 131,
  highest_w: 133.4,
  run_seen: true,
  duty: 0.42,
  cycle_h: 0.72,
  starts_a_day: 33.5,
  parts: [
    {
      ...part,
      spans: [
        [0, 0.25],
        [0.5, 0.75],
      ],
    },
    { ...part, kind: 'bump', w: 390, starts_a_day: 0.5, spans: [[0.9, 0.91]] },
  ],
  sketch_w: [
    [4, 4],
    [4, 131],
    [131, 131],
  ],
  profile_w: Array.from({ length: 24 }, () => 57),
  reading: 'log 120 h',
  problem: '',
}

beforeEach(() => (useSession().state.value = homeState(1, { home: house })))

describe('one channel of a file', () => {
  const update = vi.fn()
  const show = (more: Partial<ChannelView> = {}, to = guess(house, 'fridge')) =>
    mount(ImportChannel, { channel: { ...channel, ...more }, modelValue: to, 'onUpdate:modelValue': update })
  beforeEach(() => update.mockClear())

  it('says what was found, gaps and bumps too', () => {
    show()
    expect(text('p')).toBe(
      '57.2 W average over 120 h, standby 4 W, runs at 131 W for 42% of the time, starts 33.5 × per day, highest 134 W; 2 × a gap, not filled. Also a bump of 390 W, 0.5 × per day.',
    )
  })

  it('does not claim running watts that its steps hide', () => {
    show({ run_seen: false })
    expect(text('p')).toContain('doesn’t show its running watts')
    expect(text('p')).not.toContain('runs at')
  })

  it('goes to a load, a circuit, the whole house or nowhere; setting and season with it', async () => {
    show()
    expect(texts('.to label')).toHaveLength(4)
    await choose('in', 'the cold season')
    expect(update).toHaveBeenLastCalledWith(expect.objectContaining({ load: 'fridge', season: 'cold' }))
    await choose('set to', 'Winter')
    expect(update).toHaveBeenLastCalledWith(expect.objectContaining({ load: 'fridge', setting: 'winter' }))
    for (const [value, expected] of [
      ['7 Office', { load: '', circuit: 'office', home: '' }],
      ['the whole house', { load: '', circuit: '', home: 'home' }],
      ['not kept', { load: '', circuit: '', home: '' }],
    ] as const) {
      await choose(`What ${channel.name} was measured at`, value)
      expect(update).toHaveBeenLastCalledWith(expect.objectContaining(expected))
    }
  })

  it('that cannot be analysed says why, and goes nowhere', () => {
    show({ problem: 'at least 12 samples are needed.' })
    expect(text('.problem')).toContain('at least 12 samples')
    expect(texts('.to')).toEqual([])
  })
})

describe('a log drawn', () => {
  it('has its days below and a row for each thing found', () => {
    mount(LogDrawing, { channel, zone: 'America/Los_Angeles' })
    expect(texts('.tick text')).toEqual(['Nov 13', 'Nov 14', 'Nov 15', 'Nov 16', 'Nov 17'])
    expect(texts('.found')).toEqual(['runs: 127 W', 'higher at times (a defrost?): 390 W'])
    expect(element('.found path').getAttribute('d')).toBe('M0.0 5H160.0M320.0 5H480.0')
    expect(text('.top')).toBe('131 W')
  })

  it('of a day or less has hours', () => {
    mount(LogDrawing, { channel: { ...channel, hours: 12, parts: [] }, zone: 'America/Los_Angeles' })
    expect(texts('.tick text')[0]).toBe('12 am')
  })
})

describe('other settings of a load', () => {
  it('are added with its own figures, changed and removed', async () => {
    const update = vi.fn()
    const item = load('fridge', { average_w: 58, run_w: 131 })
    const show = (settings: Record<string, Setting>) =>
      mount(SettingsEditor, { load: item, modelValue: settings, 'onUpdate:modelValue': update })
    show({})
    await type('[aria-label="New setting"]', 'Eco')
    saying('Add a setting').click()
    expect(update.mock.lastCall?.[0]).toMatchObject({ eco: { name: 'Eco', average_w: 58, run_w: 131, season: 'any' } })
    show({ winter })
    await type('.one input', '80')
    expect(update.mock.lastCall?.[0].winter.average_w).toBe(80)
    await click('.one .link')
    expect(update).toHaveBeenLastCalledWith({})
  })
})
