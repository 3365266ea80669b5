import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { InstrumentsView, MeterView } from '@/shared/api/types'
import { useSession } from '@/shared/session/session'
import { click, element, mount, saying, text, texts, type, choices, choose, reads } from '@/testing/mount'
import { circuit, home, homeState, load, verdict } from '@/testing/samples'
import FlipRound from './FlipRound.vue'
import PanelMonitor from './PanelMonitor.vue'
import PlugMeter from './PlugMeter.vue'

const session = vi.hoisted(() => ({ noteReading: vi.fn() }))
vi.mock('@/shared/session/session', async (original) => ({ ...(await original<object>()), ...session }))

const meter: MeterView = {
  load: 'fridge',
  name: 'Fridge',
  hours: 2.2,
  energy_kwh: 0.134,
  now_w: 131,
  lowest_w: 3.9,
  highest_w: 140,
  volts: 120,
  amps: 1.68,
  power_factor: 0.65,
  text: '0.134 kWh in 2.2 h, low 3.9 W, high 140 W',
}
const seen = (more: Partial<InstrumentsView> = {}): InstrumentsView => ({
  at: '2026-11-25T10:00:00-08:00',
  speed: 60,
  speeds: [1, 60, 1440],
  meter: null,
  main_w: 150,
  breakers: [
    { circuit: 'desk', name: 'Desk', w: 20, on: true },
    { circuit: 'kitchen', name: 'Kitchen', w: 130, on: true },
    { circuit: 'bed', name: 'Bed', w: 0, on: false },
  ],
  ...more,
})
const onSet = vi.fn()

beforeEach(() => {
  onSet.mockClear()
  session.noteReading.mockClear()
  const circuits = [
    circuit('kitchen', [1], { name: 'Kitchen' }),
    circuit('desk', [4], { name: 'Desk' }),
    circuit('bed', [2], { name: 'Bed' }),
  ]
  const loads = [
    load('fridge', { circuit: 'kitchen', purpose: 'food' }),
    load('lamp', { circuit: 'desk', use: { ...load('x').use, kind: 'always' } }),
    load('range', { both_legs: true }),
    load('oxygen', { circuit: 'bed', purpose: 'life' }),
  ]
  const { state, verdict: judged } = useSession()
  state.value = homeState(1, { home: home(circuits, loads) })
  judged.value = verdict({
    measures: [{ load: 'lamp', name: 'Lamp', evidence: 'guess', narrows_h: 0.3, share: 0.5 }],
  })
})

describe('the plug-in meter', () => {
  it('offers what has a plug, and points at what to meter next', async () => {
    mount(PlugMeter, { seen: seen(), onSet })
    expect((await choices('Load to plug in')).map(reads)).toEqual([
      'choose a load',
      'Fridge',
      'Lamp (meter this next)',
      'Oxygen',
    ])
    await choose('Load to plug in', 'Fridge')
    saying('Plug in').click()
    expect(onSet).toHaveBeenCalledWith({ plug: 'fridge' })
  })

  it.each([
    ['lamp', 2.2, 'Good to ±7%; longer is better.'],
    ['fridge', 0.5, 'Good to ±13%; longer is better.'],
    ['oxygen', 30, 'Good to ±3%.'],
  ])('says what so long a sample of the %s is worth', (id, hours, words) => {
    mount(PlugMeter, { seen: seen({ meter: { ...meter, load: id, hours } }), onSet })
    expect(text('section')).toContain(words)
  })

  it('is worth less for a load that cycles', () => {
    const { state } = useSession()
    const cycling = load('fridge', { use: { ...load('x').use, kind: 'cycling' } })
    state.value = homeState(1, { home: home([], [cycling]) })
    mount(PlugMeter, { seen: seen({ meter }), onSet })
    expect(text('section')).toContain('Good to ±20%; longer is better.')
  })

  it('notes what it shows for the load that is plugged in', async () => {
    mount(PlugMeter, { seen: seen({ meter }), onSet })
    expect(text('.face')).toContain('0.134 kWh over 2 h 12 m')
    await click('.strong')
    expect(session.noteReading).toHaveBeenCalledWith({ text: meter.text, load: 'fridge' })
    expect(text('[role=status]')).toContain('Noted for Fridge')
    saying('Take out').click()
    expect(onSet).toHaveBeenCalledWith({ unplug: true })
  })

  it('has nothing to note while it is too early', () => {
    mount(PlugMeter, { seen: seen({ meter: { ...meter, text: '' } }), onSet })
    expect(element<HTMLButtonElement>('.strong').disabled).toBe(true)
  })
})

describe('the panel monitor', () => {
  it('goes by slot, and switches breakers', () => {
    mount(PanelMonitor, { seen: seen(), onSet })
    expect(texts('li')).toEqual(['1 Kitchen 130 W switch off', '2 Bed off switch on', '4 Desk 20 W switch off'])
    saying('switch on').click()
    expect(onSet).toHaveBeenCalledWith({ breakers: { bed: true } })
  })
})

describe('the flip-in round', () => {
  it('takes the step of the whole as the circuit’s, those that are depended on last', async () => {
    mount(FlipRound, { seen: seen({ main_w: 0 }), onSet })
    await click('.btn')
    expect(onSet).toHaveBeenLastCalledWith({ breakers: { desk: false, kitchen: false, bed: false } })
    expect(text('section')).toContain('1 of 3: 4 Desk')
    saying('Switch it on').click()
    expect(onSet).toHaveBeenLastCalledWith({ breakers: { desk: true } })
    await Promise.resolve()
    saying('Note the step').click()
    expect(session.noteReading).toHaveBeenCalledWith({ text: 'step 0 W now', circuit: 'desk' })
    await Promise.resolve()
    expect(text('section')).toContain('2 of 3: 1 Kitchen someone or something depends on this one')
    saying('Stop and switch all on').click()
    expect(onSet).toHaveBeenLastCalledWith({ breakers: { desk: true, kitchen: true, bed: true } })
  })

  it('goes by a display that is read and typed, where no monitor is connected', async () => {
    mount(FlipRound, { onSet })
    await click('.btn')
    await type('.shown input', '40')
    saying('Switch it on').click()
    await Promise.resolve()
    await type('.shown input', '187,5')
    expect(text('.acts strong')).toBe('+148 W')
    saying('Note the step').click()
    expect(session.noteReading).toHaveBeenCalledWith({ text: 'step 148 W now', circuit: 'desk' })
  })
})
