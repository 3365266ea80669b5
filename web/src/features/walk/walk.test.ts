import { beforeEach, describe, expect, it } from 'vitest'
import { roundOrder } from '@/features/meters/round'
import type { Home, HomeState } from '@/shared/api/types'
import { foreseen } from '@/shared/session/patch'
import { circuit, home, homeState, load } from '@/testing/samples'
import { beginOps, endOps, entryOps, newBreaker, recallOff, rememberOff, walkOrder } from './walk'

const AT = '2026-11-25T10:00:00.000Z'
const found = { name: 'Porch', room: 'porch', loads: ['lamp'], added: [], dark: '' }
let state: HomeState

beforeEach(() => {
  const circuits = [
    circuit('bed', [1]),
    circuit('food', [2]),
    circuit('desk', [5]),
    circuit('x', [3], { traced: false }),
  ]
  const loads = [
    load('oxygen', { circuit: 'bed', purpose: 'life' }),
    load('fridge', { circuit: 'food', purpose: 'food' }),
    load('lamp', { circuit: 'desk' }),
  ]
  state = homeState(1, { home: home(circuits, loads) })
  state = foreseen(state, beginOps(state.home, 'oxygen on its own battery', AT))
})
const walked = (h: Home, id: string, more = {}) =>
  (state = foreseen(state, entryOps(h, h.circuits[id]!, { ...found, ...more }, AT)))

describe('the order of a round', () => {
  it('leaves what someone depends on to the last', () => {
    expect(roundOrder(state.home)).toEqual([
      { circuit: 'x', timed: false },
      { circuit: 'desk', timed: false },
      { circuit: 'food', timed: true },
      { circuit: 'bed', timed: true },
    ])
  })
})

describe('the walk', () => {
  it('traces a circuit, names it, and moves what went dark to it', () => {
    walked(state.home, 'x')
    const h = state.home
    expect(h.circuits.x).toMatchObject({ name: 'Porch', room: 'porch', traced: true })
    expect(h.loads.lamp?.circuit).toBe('x')
    expect(h.household.walk?.entries).toEqual({ x: { at: AT, dark: '' } })
    expect(walkOrder(h).filter((o) => o.done)).toHaveLength(1)
  })

  it('takes off what stayed lit, and adds what nobody had listed, without watts', () => {
    walked(state.home, 'desk', { name: 'Desk', loads: [], added: ['Clock', 'Clock'] })
    expect(state.home.loads.lamp?.circuit).toBeNull()
    expect(state.home.loads.clock).toMatchObject({ name: 'Clock', circuit: 'desk', average_w: 0, run_w: 0 })
    expect(state.home.loads['clock-2']?.name).toBe('Clock')
  })

  it('changes nothing but the entry where all was as thought', () => {
    const c = state.home.circuits.desk!
    const same = { name: c.name, room: c.room, loads: ['lamp'], added: [], dark: 'hall too' }
    expect(entryOps(state.home, c, same, AT)).toEqual([
      { doc: 'home', op: 'add', path: '/household/walk/entries/desk', value: { at: AT, dark: 'hall too' } },
    ])
  })

  it('takes the walk up again without losing entries, and ends', () => {
    walked(state.home, 'x')
    state = foreseen(state, endOps(AT))
    expect(state.home.household.walk?.ended).toBe(AT)
    state = foreseen(state, beginOps(state.home, 'nobody', '2026-12-01T10:00:00.000Z'))
    expect(state.home.household.walk).toMatchObject({ begun: AT, ended: null, depends: 'nobody' })
    expect(Object.keys(state.home.household.walk?.entries ?? {})).toEqual(['x'])
  })

  it('adds a breaker nobody had listed, untraced', () => {
    const made = newBreaker(state.home, 7, 20)
    state = foreseen(state, made.ops)
    expect(state.home.circuits[made.id]).toMatchObject({ slots: [7], breaker_a: 20, traced: false })
  })

  it('remembers in this browser which breaker is off', () => {
    rememberOff('h', { circuit: 'x', since: 5 })
    expect(recallOff('h')).toEqual({ circuit: 'x', since: 5 })
    rememberOff('h', null)
    expect(recallOff('h')).toBeNull()
  })
})
