import { describe, expect, it } from 'vitest'
import type { Load } from '@/shared/api/types'
import { foreseen } from '@/shared/session/patch'
import { circuit, feed, home, homeState, load, plan, verdict } from '@/testing/samples'
import {
  cellEdit,
  circuitWatts,
  figuresById,
  legText,
  newCircuit,
  newUse,
  removeCircuit,
  removeLoad,
  useText,
} from './model'

const fridge = load('fridge', { name: 'Refrigerator', average_w: 58, run_w: 131, start_va: 1180 })

describe('a typed cell', () => {
  it.each([
    ['average_w', '70', 70, 'Refrigerator, average: 58 → 70 W'],
    ['average_w', '70 W', 70, 'Refrigerator, average: 58 → 70 W'],
    ['run_w', '0.15 kW', 150, 'Refrigerator, running: 131 → 150 W'],
    ['run_w', '1,350', 1350, 'Refrigerator, running: 131 → 1,350 W'],
    ['start_va', '1.3 kVA', 1300, 'Refrigerator, starting: 1,180 → 1,300 VA'],
    ['start_va', '', null, 'Refrigerator: start by kind'],
    ['name', ' Cold box ', 'Cold box', 'Refrigerator: name Cold box'],
    ['evidence', 'logged', 'logged', 'Refrigerator: evidence logged'],
  ])('%s %j becomes %j', (key, text, value, label) => {
    const edit = cellEdit(fridge, key, text)
    expect(edit).toMatchObject({ label, problem: '' })
    expect(edit.ops).toEqual([{ doc: 'home', op: 'replace', path: `/loads/fridge/${key}`, value }])
  })

  it.each([
    ['average_w', 'lots', 'a number'],
    ['average_w', '', 'a number'],
    ['run_w', '-4', 'cannot be below 0'],
    ['name', '  ', 'needs a name'],
    ['evidence', 'hearsay', 'not one of guess, label, metered, logged'],
  ])('%s %j is refused: %s', (key, text, words) => {
    const edit = cellEdit(fridge, key, text)
    expect(edit.ops).toEqual([])
    expect(edit.problem).toContain(words)
  })

  it('escapes an id with a slash in it', () => {
    expect(cellEdit(load('a/b'), 'run_w', '5').ops[0]?.path).toBe('/loads/a~1b/run_w')
  })
})

describe('use in words', () => {
  const used = (use: Partial<Load['use']>) => load('x', { use: { ...newUse(), ...use } })
  it.each([
    [used({}), null, 'always'],
    [used({ kind: 'cycling' }), 0.42, 'cycles, runs 42%'],
    [used({ kind: 'cycling' }), undefined, 'cycles'],
    [used({ kind: 'windows', windows: [{ start_h: 22, end_h: 7, days: 'all' }] }), null, '10 pm to 7 am'],
    [used({ kind: 'windows', windows: [{ start_h: 9, end_h: 17, days: 'weekday' }] }), null, '9 am to 5 pm, weekdays'],
    [used({ kind: 'tasks', times: [7, 12.5], minutes: 25 }), null, '7 am, 12:30 pm, 25 min'],
  ])('%#: %j', (item, duty, text) => expect(useText(item, duty)).toBe(text))
})

describe('circuits', () => {
  it('adds up what the core says of a circuit’s loads', () => {
    const house = home([circuit('a', [1])], [load('x', { circuit: 'a' }), load('y', { circuit: 'a' }), load('z')])
    const loads = ['x', 'y', 'z'].map((id, i) => ({
      id,
      mean_w: 10 * (i + 1),
      duty: null,
      fed_w: null,
      run_va: 0,
      start_va: 0,
    }))
    const figures = figuresById(verdict({ loads }))
    expect(circuitWatts(house, 'a', figures)).toBe(30)
    expect(circuitWatts(house, 'a', figuresById(null))).toBe(0)
  })

  it('says the leg that the verdict gives, and begins a circuit in its slot', () => {
    expect([legText('A'), legText('A·B'), legText(''), legText(undefined)]).toEqual(['leg A', 'both legs', '', ''])
    expect(newCircuit('n', 9).slots).toEqual([9])
  })
})

describe('removing is one edit over every document', () => {
  const state = homeState(1, {
    home: home(
      [circuit('a', [1], { neutral_partner: 'b' }), circuit('b', [2])],
      [load('x', { circuit: 'b' }), load('y', { circuit: 'b' }), load('z')],
    ),
    plans: [
      plan([feed('b', 1), feed('z', 2, { circuit: null, load: 'z' })], {
        load_choices: { x: 'unplugged', z: 'wanted' },
        not_together: [
          ['x', 'z'],
          ['x', 'y', 'z'],
        ],
        reasons: { b: 'too heavy' },
        own_numbers: {
          day_wh: null,
          days: null,
          module_wh: null,
          sun_hours: null,
          panel_w: null,
          margin: 0,
          panel_factor: 1,
          running_h: 24,
          night: { from_h: 22, to_h: 7, loads: ['x', 'z'], told_w: null, told_wh: null },
        },
      }),
      plan([], { id: 'q' }),
    ],
  })

  it('a load goes from feeds, choices and groups', () => {
    const next = foreseen(state, removeLoad(state, 'z'))
    expect(Object.keys(next.home.loads)).toEqual(['x', 'y'])
    expect(Object.keys(next.plans[0]?.feeds ?? {})).toEqual(['b'])
    expect(next.plans[0]?.load_choices).toEqual({ x: 'unplugged' })
    expect(next.plans[0]?.not_together).toEqual([['x', 'y']])
    expect(next.plans[0]?.own_numbers?.night.loads).toEqual(['x'])
    expect(next.plans[1]).toEqual(state.plans[1])
  })

  it('a circuit leaves its loads on none, and its neutral’s partner alone', () => {
    const next = foreseen(state, removeCircuit(state, 'b'))
    expect(Object.values(next.home.loads).map((l) => l.circuit)).toEqual([null, null, null])
    expect(next.home.circuits.a?.neutral_partner).toBeNull()
    expect(Object.keys(next.plans[0]?.feeds ?? {})).toEqual(['z'])
    expect(next.plans[0]?.reasons).toEqual({})
  })
})
