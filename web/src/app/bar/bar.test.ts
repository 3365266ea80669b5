import { beforeEach, describe, expect, it, vi } from 'vitest'
import { useSession } from '@/shared/session/session'
import type { Move, Verdict } from '@/shared/api/types'
import { click, element, mount, text, texts } from '@/testing/mount'
import { homeState, headline, verdict } from '@/testing/samples'
import BandPicture from './BandPicture.vue'
import MoveChips from './MoveChips.vue'
import VerdictWords from './VerdictWords.vue'

const session = vi.hoisted(() => ({ edit: vi.fn(), undo: vi.fn() }))
vi.mock('@/shared/session/session', async (original) => ({ ...(await original<object>()), ...session }))

const move = (more: Partial<Move>): Move => ({
  id: 'm',
  kind: 'widening',
  label: 'one more module',
  hours: 20,
  hours_gained: 4.7,
  never_dark: false,
  clears: false,
  after: null,
  unit: '',
  price: null,
  currency: '',
  per_100: null,
  enter: '',
  ops: [{ doc: 'p', op: 'replace', path: '/floor', value: 0 }],
  ...more,
})
const broken = (more: Partial<Verdict> = {}) =>
  verdict({
    state: 'trips',
    fits: false,
    neck: { id: 'leg:B', kind: 'broken', title: 'Leg B: 27.1 of 25 A', sentence: '' },
    headline: headline('trips', { instead: 'With a Pail instead (1,180 USD): about 12 h 10 m' }),
    ...more,
  })

beforeEach(() => {
  session.edit.mockClear()
  session.undo.mockClear()
  useSession().state.value = homeState(1)
})

describe('the large words never lead with hours that cannot happen', () => {
  it.each([
    [verdict(), 'Count on 15 h until Wed 9:00 am, probably 18 h 10 m'],
    [
      verdict({ headline: headline('runs', { label: 'Still on after', figure: '48 h', until: '', probably: '' }) }),
      'Still on after 48 h',
    ],
    [verdict({ sun: true, dry_hours: 12 }), 'Count on 15 h until Wed 9:00 am, probably 18 h 10 m, without sun 12 h'],
    [verdict({ sun: true, dry_hours: 18.2 }), 'Count on 15 h until Wed 9:00 am, probably 18 h 10 m'],
    [
      verdict({ neck: null, headline: headline('runs', { life: 'Mask off at Wed 2:10 am', probably: '' }) }),
      'Mask off at Wed 2:10 am Count on 15 h until Wed 9:00 am',
    ],
    [broken(), 'Will trip With a Pail instead (1,180 USD): about 12 h 10 m'],
    [
      broken({ headline: headline('trips', { instead: 'No single change fixes it' }) }),
      'Will trip No single change fixes it',
    ],
    [
      verdict({ state: 'no_station', fits: false, hours: null, neck: null, needs_wh: 3100 }),
      'No station yet 24 h needs 3.1 kWh',
    ],
    [verdict({ state: 'no_loads', fits: false, neck: null }), 'No loads yet Add one load to see hours'],
    [
      verdict({ state: 'nothing_chosen', fits: false, neck: null }),
      'This plan powers nothing yet Choose what to power to see hours',
    ],
  ])('%#', (v, expected) => {
    mount(VerdictWords, { verdict: v })
    expect(text('.words')).toBe(expected)
  })
})

describe('the band', () => {
  it('says the goal and its chance, and draws them on one scale with the hours', () => {
    mount(BandPicture, { verdict: verdict() })
    expect(text('.band')).toBe('goal 24 h, reached about 1 time in 3')
    const goal = parseFloat(element('.goal').style.left)
    expect(parseFloat(element('.mid').style.left)).toBeLessThan(goal)
    expect(parseFloat(element('.spread').style.left)).toBeLessThan(parseFloat(element('.mid').style.left))
  })
})

describe('what must stay on and is not fed', () => {
  it('stands beside the hours, and a goal is not met without it', () => {
    const unfed = [{ load: 'pump', name: 'Well pump', needs: 'Well pump is not fed: it needs 240 V.' }]
    mount(VerdictWords, {
      verdict: verdict({ unfed, headline: headline('runs', { missing: "Well pump isn't powered" }) }),
    })
    expect(text('.unfed')).toBe("Well pump isn't powered")
    expect(element('.unfed').title).toContain('needs 240 V')
  })
})

describe('moves', () => {
  it.each([
    [move({}), '+4 h 40 m one more module'],
    [move({ price: '1450', currency: 'USD' }), '+4 h 40 m 1,450 USD one more module'],
    [move({ price: '0' }), '+4 h 40 m one more module'],
    [move({ never_dark: true }), 'reaches the goal one more module'],
    [move({ kind: 'fix', clears: true, label: 'Office to leg A' }), 'fixes it Office to leg A'],
    [move({ kind: 'fix', after: null, label: 'unplug Office' }), 'fixes this limit unplug Office'],
    [move({ kind: 'fix', after: 25.61, unit: 'A', label: 'leave off Office' }), 'to 25.6 A leave off Office'],
  ])('%#', (m, expected) => {
    mount(MoveChips, { verdict: verdict({ chips: [m] }) })
    expect(text('.chip')).toBe(expected)
  })

  it('one click tries, and one takes back', async () => {
    mount(MoveChips, { verdict: verdict({ chips: [move({})] }) })
    await click('.chip')
    expect(session.edit).toHaveBeenCalledWith('one more module', move({}).ops, true)
    useSession().state.value = homeState(2, { undo: 'one more module', trial: true })
    mount(MoveChips, { verdict: verdict({ chips: [move({ id: 'x' }), move({ id: 'y' }), move({ id: 'z' })] }) })
    expect(texts('.chip')[0]).toBe('Undo one more module')
    expect(texts('.chip')).toHaveLength(2) // as many as the bar holds whole at this width
    await click('.back')
    expect(session.undo).toHaveBeenCalledOnce()
  })

  it.each([
    ['no_loads', 'Add a load'],
    ['nothing_chosen', 'Choose what to power'],
    ['no_station', 'Choose a station'],
  ] as const)('%s offers the next step: %s', (state, words) => {
    mount(MoveChips, { verdict: verdict({ state, fits: false, neck: null }) })
    expect(texts('a.chip')).toEqual([words])
  })
})
