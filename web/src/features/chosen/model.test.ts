import { describe, expect, it } from 'vitest'
import type { Plan } from '@/shared/api/types'
import { applied } from '@/shared/patch'
import { circuit, feed, home, load, plan, tenPlace } from '@/testing/samples'
import {
  changeEquipment,
  choice,
  feedOf,
  freePlace,
  moveTo,
  setStance,
  span,
  spansOf,
  stanceOf,
  useSetting,
  type Change,
} from './model'

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
    const change = setStance(p, house, spans, target('c'), stance, 10)
    expect(change?.label).toBe(label)
    const next = after(p, change)
    expect(next.feeds.c).toMatchObject({ place, stance, circuit: 'c', load: null, source: 'main' })
  })

  it('pours one out, and changes the stance of one that is in', () => {
    const p = plan([feed('a', 1)])
    expect(after(p, setStance(p, house, spans, target('a'), 'off', 10)).feeds).toEqual({})
    expect(after(p, setStance(p, house, spans, target('a'), 'turns', 10)).feeds.a).toMatchObject({
      place: 1,
      stance: 'turns',
    })
  })

  it('brings back what was left off with its hours and its place', () => {
    const windows = [{ start_h: 8, end_h: 12, days: 'all' as const }]
    const p = plan([feed('a', 1), feed('b', 5, { stance: 'turns', windows })])
    const off = after(p, setStance(p, house, spans, target('b'), 'off', 10))
    const again = after(off, setStance(off, house, spans, target('b'), 'turns', 10))
    expect(again.feeds.b).toMatchObject({ place: 5, stance: 'turns', windows })
  })

  it('does nothing where nothing would change', () => {
    const p = plan([feed('a', 1)])
    expect(setStance(p, house, spans, target('a'), 'keep_on', 10)).toBeNull()
    expect(setStance(p, house, spans, target('b'), 'off', 10)).toBeNull()
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
    expect(freePlace(p, spans, target('c'), 10)).toBe(2)
    expect(freePlace(p, spans, target('two'), 10)).toBe(5)
    const full = plan(Array.from({ length: 10 }, (_, i) => feed(`f${i}`, i + 1)))
    expect(freePlace(full, spans, target('c'), 10)).toBe(11)
  })

  it('lets cords share the outlet with the fewest on it', () => {
    const on = (id: string, place: number) => feed(id, place, { circuit: null, load: id })
    expect(freePlace(plan([on('lamp', 1)]), spans, cord('fan'), 2)).toBe(2)
    expect(freePlace(plan([on('x', 1), on('y', 1), on('z', 2)]), spans, cord('fan'), 2)).toBe(2)
  })

  it('moves to a free place', () => {
    const p = plan([feed('a', 1)])
    expect(places(after(p, moveTo(p, house, spans, target('a'), 7, 10)))).toEqual({ a: 7 })
    expect(moveTo(p, house, spans, target('a'), 1, 10)).toBeNull()
  })

  it('changes places with what is there', () => {
    const p = plan([feed('a', 1), feed('b', 2)])
    const change = moveTo(p, house, spans, target('a'), 2, 10)
    expect(change?.label).toBe('Circuit a to place 2, in exchange')
    expect(places(after(p, change))).toEqual({ a: 2, b: 1 })
  })

  it('poured into a taken place, sends the other to a free one', () => {
    const p = plan([feed('a', 1)])
    expect(places(after(p, moveTo(p, house, spans, target('c'), 1, 10)))).toEqual({ c: 1, a: 2 })
  })

  it('never puts a 240 V circuit on top of a single one', () => {
    const p = plan([feed('a', 1), feed('b', 2)])
    expect(moveTo(p, house, spans, target('two'), 1, 10)).toBeNull()
  })
})

describe('other equipment and choices', () => {
  it('lets go in the same edit what cannot hang on the new equipment', () => {
    const p = plan([feed('a', 1), feed('lamp', 2, { circuit: null, load: 'lamp' })])
    const cords = changeEquipment(p, { ...tenPlace, id: 'cords', name: 'Cords only', kind: 'cords' })
    expect(cords.label).toBe('Cords only; 1 let go')
    expect(after(p, cords)).toMatchObject({ transfer: 'cords', feeds: { lamp: { load: 'lamp' } } })
    expect(Object.keys(after(p, changeEquipment(p, { ...tenPlace, id: 'six-place' })).feeds)).toEqual(['a'])
  })

  it.each([
    ['unplugged', 'Lamp unplugged', { lamp: 'unplugged' }],
    ['wanted', 'Lamp counted in', { lamp: 'wanted' }],
    [null, 'Lamp plugged in again', {}],
  ] as const)('says what happens to a rider: %s', (value, label, choices) => {
    const p = plan([], { load_choices: value === null ? { lamp: 'unplugged' } : {} })
    const change = choice(p, house, 'lamp', value)
    expect(change.label).toBe(label)
    expect(after(p, change).load_choices).toEqual(choices)
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
