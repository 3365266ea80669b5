import { describe, expect, it } from 'vitest'
import type { HomeState, Op } from '../api/types'
import { applied, escape, foreseen, overlap } from './patch'

const state = {
  home: { loads: { a: { run_w: 5 } } },
  plans: [{ id: 'p', feeds: {} }],
  outages: [],
} as unknown as HomeState

describe('foreseen', () => {
  it('changes a copy and leaves the state alone', () => {
    const next = foreseen(state, [{ doc: 'home', op: 'replace', path: `/loads/${escape('a')}/run_w`, value: 7 }])
    expect(next.home.loads.a?.run_w).toBe(7)
    expect(state.home.loads.a?.run_w).toBe(5)
  })

  it('adds and removes whole documents', () => {
    const plan = { id: 'q' }
    const more = foreseen(state, [{ doc: 'q', op: 'add', path: '', kind: 'plan', value: plan }])
    expect(more.plans.map((p) => p.id)).toEqual(['p', 'q'])
    expect(foreseen(more, [{ doc: 'p', op: 'remove', path: '' }]).plans.map((p) => p.id)).toEqual(['q'])
  })

  it('reads escaped keys and refuses a path that leads nowhere', () => {
    expect(applied({ 'a/b': 1 }, { doc: 'x', op: 'remove', path: '/a~1b' as Op['path'] })).toEqual({})
    expect(() => applied({}, { doc: 'x', op: 'add', path: '/a/b' as Op['path'], value: 1 })).toThrow('nothing at /a/b')
  })
})

describe('overlap', () => {
  it.each([
    [['home/loads/a/run_w'], ['home/loads/a/run_w'], true],
    [['home/loads/a/run_w'], ['home/loads/a'], true],
    [['home/loads/a'], ['home/loads/ab'], false],
    [['p/floor'], ['home/loads/a'], false],
  ])('%j and %j: %s', (mine, theirs, expected) => {
    expect(overlap(mine, theirs)).toBe(expected)
  })
})
