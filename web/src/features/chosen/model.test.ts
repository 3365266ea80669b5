import { describe, expect, it } from 'vitest'
import type { Plan, TransferEquipment } from '@/shared/api/types'
import { applied } from '@/shared/session/patch'
import { circuit, feed, home, load, plan, tenPlace } from '@/testing/samples'
import { addDevice, changeEquipment, feedDeviceBy, openBy, removeDevice } from './devices'
import { choice, feedOf, freePlace, moveTo, setStance, span, spansOf, stanceOf, useSetting, type Change } from './model'

const house = home(
  [circuit('a', [5]), circuit('b', [6]), circuit('c', [7]), circuit('two', [10, 12], { poles: 2 })],
  [load('lamp'), load('fan')],
)
const spans = spansOf({
  circuits: [
    { id: 'two', leg: 'A·B', places: 2 },
    { id: 'a', leg: 'A', places: 1 },
  ],
})
const target = (id: string) => ({ kind: 'circuit' as const, id })
const main = { device: 'main', source: 'main' }
const feeds = (p: Plan) => Object.values(p.feeds)
const cord = (id: string) => ({ kind: 'load' as const, id })

function after(before: Plan, change: Change | null): Plan {
  expect(change).not.toBeNull()
  return (change as Change).ops.reduce((document, op) => applied(document, op), before)
}
const places = (p: Plan) => Object.fromEntries(Object.values(p.feeds).map((f) => [f.id, f.place]))

describe('stances', () => {
  it('reads what a plan says of a circuit', () => {
    const p = plan([feed('a', 1), feed('b', 2, { stance: 'turns' })])
    expect([stanceOf(p, target('a')), stanceOf(p, target('b')), stanceOf(p, target('c'))]).toEqual([
      'keep_on',
      'turns',
      'off',
    ])
    expect(feedOf(p, target('c'))).toBeNull()
  })

  it.each([
    ['keep_on', 'Circuit c keeps on', 3],
    ['turns', 'Circuit c takes turns', 3],
  ] as const)('pours a circuit in as %s, into the first free place', (stance, label, place) => {
    const p = plan([feed('a', 1), feed('b', 2)])
    const change = setStance(p, house, spans, target('c'), stance, 10, main)
    expect(change?.label).toBe(label)
    const next = after(p, change)
    expect(next.feeds.c).toMatchObject({ place, stance, circuit: 'c', load: null, source: 'main' })
  })

  it('pours one out, and changes the stance of one that is in', () => {
    const p = plan([feed('a', 1)])
    expect(after(p, setStance(p, house, spans, target('a'), 'off', 10, main)).feeds).toEqual({})
    expect(after(p, setStance(p, house, spans, target('a'), 'turns', 10, main)).feeds.a).toMatchObject({
      place: 1,
      stance: 'turns',
    })
  })

  it('brings back what was left off with its hours and its place', () => {
    const windows = [{ start_h: 8, end_h: 12, days: 'all' as const }]
    const p = plan([feed('a', 1), feed('b', 5, { stance: 'turns', windows })])
    const off = after(p, setStance(p, house, spans, target('b'), 'off', 10, main))
    const again = after(off, setStance(off, house, spans, target('b'), 'turns', 10, main))
    expect(again.feeds.b).toMatchObject({ place: 5, stance: 'turns', windows })
  })

  it('does nothing where nothing would change', () => {
    const p = plan([feed('a', 1)])
    expect(setStance(p, house, spans, target('a'), 'keep_on', 10, main)).toBeNull()
    expect(setStance(p, house, spans, target('b'), 'off', 10, main)).toBeNull()
  })
})

describe('places', () => {
  it('takes two side by side for a 240 V circuit of a split-phase house only', () => {
    expect(span(spans, { circuit: 'two', place: 3 })).toEqual([3, 4])
    expect(span(spans, { circuit: 'a', place: 3 })).toEqual([3])
    expect(spansOf(null)).toEqual({})
  })

  it('finds the first free place, two together where two are needed, one past the last when full', () => {
    const p = plan([feed('a', 1), feed('b', 4)])
    expect(freePlace(feeds(p), spans, target('c'), 10)).toBe(2)
    expect(freePlace(feeds(p), spans, target('two'), 10)).toBe(5)
    const full = plan(Array.from({ length: 10 }, (_, i) => feed(`f${i}`, i + 1)))
    expect(freePlace(feeds(full), spans, target('c'), 10)).toBe(11)
  })

  it('lets cords share the outlet with the fewest on it', () => {
    const on = (id: string, place: number) => feed(id, place, { circuit: null, load: id })
    expect(freePlace(feeds(plan([on('lamp', 1)])), spans, cord('fan'), 2)).toBe(2)
    expect(freePlace(feeds(plan([on('x', 1), on('y', 1), on('z', 2)])), spans, cord('fan'), 2)).toBe(2)
  })

  it('moves to a free place', () => {
    const p = plan([feed('a', 1)])
    expect(places(after(p, moveTo(p, house, spans, target('a'), 7, 10, main)))).toEqual({ a: 7 })
    expect(moveTo(p, house, spans, target('a'), 1, 10, main)).toBeNull()
  })

  it('changes places with what is there', () => {
    const p = plan([feed('a', 1), feed('b', 2)])
    const change = moveTo(p, house, spans, target('a'), 2, 10, main)
    expect(change?.label).toBe('Circuit a to place 2, in exchange')
    expect(places(after(p, change))).toEqual({ a: 2, b: 1 })
  })

  it('poured into a taken place, sends the other to a free one', () => {
    const p = plan([feed('a', 1)])
    expect(places(after(p, moveTo(p, house, spans, target('c'), 1, 10, main)))).toEqual({ c: 1, a: 2 })
  })

  it('never puts a 240 V circuit on top of a single one', () => {
    const p = plan([feed('a', 1), feed('b', 2)])
    expect(moveTo(p, house, spans, target('two'), 1, 10, main)).toBeNull()
  })
})

describe('other equipment and choices', () => {
  const cords = { id: 'cords', name: 'Cords only', kind: 'cords' } as TransferEquipment
  const room = home(
    [circuit('hall', [5]), circuit('well', [6])],
    [load('lamp', { circuit: 'hall' }), load('pump', { circuit: 'well', hard_wired: true }), load('radio')],
  )

  it('keeps what was chosen when a switch takes the place of cords', () => {
    const on = (id: string, place: number) => feed(id, place, { circuit: null, load: id })
    const p = plan([on('lamp', 1), on('radio', 2)], { devices: {} })
    const next = after(p, changeEquipment(p, room, {}, { device: '', source: 'main' }, tenPlace))
    expect(next.devices.main).toMatchObject({ equipment: 'ten-place', source: 'main' })
    expect(next.feeds.hall).toMatchObject({ circuit: 'hall', load: null, device: 'main', place: 1 })
    expect(next.feeds.radio).toMatchObject({ load: 'radio', place: 2 })
    expect(next.feeds.lamp).toBeUndefined()
  })

  it('hangs what has a plug on cords when the switch goes, and says what is let go', () => {
    const p = plan([feed('hall', 1), feed('well', 2)])
    const change = changeEquipment(p, room, {}, main, cords)
    expect(change.label).toBe('Cords only; 1 let go')
    const next = after(p, change)
    expect(next.devices).toEqual({})
    expect(Object.values(next.feeds).map((f) => f.load)).toEqual(['lamp'])
  })

  it('takes a load off its cord when its circuit comes in on the same source', () => {
    const p = plan([feed('lamp', 1, { circuit: null, load: 'lamp' })])
    const next = after(p, setStance(p, room, {}, { kind: 'circuit', id: 'hall' }, 'keep_on', 10, main))
    expect(Object.keys(next.feeds)).toEqual(['hall'])
    const moved = after(p, moveTo(p, room, {}, { kind: 'circuit', id: 'hall' }, 4, 10, main))
    expect(Object.keys(moved.feeds)).toEqual(['hall'])
  })

  it('adds a device for the source that has none, moves it to another source, and takes it away with what is in it', () => {
    const p = plan([feed('a', 1)])
    const two = { ...p, sources: { ...p.sources, pail: { ...p.sources.main, id: 'pail' } } } as Plan
    const { change, board } = addDevice(two, tenPlace)
    expect(board.source).toBe('pail')
    const there = after(two, change)
    const put = after(there, moveTo(there, house, spans, target('a'), 3, 10, board))
    expect(put.feeds.a).toMatchObject({ device: board.device, source: 'pail', place: 3 })
    const fed = after(put, feedDeviceBy(put, board.device, 'main', 'on main'))
    expect(fed.feeds.a).toMatchObject({ source: 'main', device: board.device })
    expect(after(put, removeDevice(put, board.device, 'it')).feeds).toEqual({})
  })

  it.each([
    ['unplugged', 'Lamp unplugged', { lamp: 'unplugged' }],
    ['wanted', 'Lamp counted', { lamp: 'wanted' }],
    [null, 'Lamp plugged in again', {}],
  ] as const)('says what happens to a rider: %s', (value, label, choices) => {
    const p = plan([], { load_choices: value === null ? { lamp: 'unplugged' } : {} })
    const change = choice(p, house, 'lamp', value)
    expect(change.label).toBe(label)
    expect(after(p, change).load_choices).toEqual(choices)
  })

  it('notes who opens a breaker, and forgets it when the circuit is fed again', () => {
    const p = plan([])
    const opened = after(p, openBy(p, ['a', 'b'], 'Ada', 'opened'))
    expect(opened.opened).toEqual({ a: 'Ada', b: 'Ada' })
    expect(after(opened, setStance(opened, house, spans, target('a'), 'keep_on', 10, main)).opened).toEqual({
      b: 'Ada',
    })
  })

  it('picks a setting for a plan, and leaves it to the season again', () => {
    const low = { id: 'low', name: 'Low', average_w: 9, rest_w: 0, run_w: 9, season: 'any' as const }
    const lamp = load('lamp', { settings: { low: { ...low, evidence: 'guess', spread: null } } })
    const lit = home([], [lamp])
    const picked = useSetting(plan(), lit, 'lamp', 'low')
    expect(picked.label).toBe('Lamp: Low')
    const p = after(plan(), picked)
    expect(p.settings).toEqual({ lamp: 'low' })
    expect(after(p, useSetting(p, lit, 'lamp', '')).settings).toEqual({ lamp: '' })
    expect(after(p, useSetting(p, lit, 'lamp', null)).settings).toEqual({})
  })
})
