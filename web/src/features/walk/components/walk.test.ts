import { beforeEach, describe, expect, it, vi } from 'vitest'
import { nextTick } from 'vue'
import { useSession } from '@/shared/session/session'
import { click, element, mount, saying, submit, text, texts, type } from '@/testing/mount'
import { circuit, home, homeState, load } from '@/testing/samples'
import DarkList from './DarkList.vue'
import WalkEnd from './WalkEnd.vue'
import WalkIntro from './WalkIntro.vue'
import WalkStep from './WalkStep.vue'

const desk = circuit('desk', [5], { name: 'Desk', room: 'study' })
const loads = [load('lamp', { circuit: 'desk' }), load('clock'), load('fan', { circuit: 'hall' })]
const house = home([desk, circuit('hall', [6], { name: 'Hall' })], loads)
const ill = home([desk], [load('oxygen', { circuit: 'desk', purpose: 'life' })])
const walk = { begun: '2026-11-01T08:00:00Z', depends: '', entries: {}, ended: null }

beforeEach(() => (useSession().state.value = homeState(1, { home: house })))

describe('before any breaker goes off', () => {
  const onBegin = vi.fn()
  beforeEach(() => onBegin.mockClear())

  it('asks who depends on power, and goes no further without an answer', async () => {
    mount(WalkIntro, { home: house, walk: null, onBegin })
    expect(element<HTMLButtonElement>('.big').disabled).toBe(true)
    await click('input[type=checkbox]')
    await click('.big')
    expect(onBegin).toHaveBeenCalledWith('no one and nothing')
  })

  it('takes no “nobody” where someone’s life hangs on a load', async () => {
    mount(WalkIntro, { home: ill, walk: null, onBegin })
    expect(text('.care')).toContain('In this house: Oxygen')
    expect(texts('input[type=checkbox]')).toEqual([])
    await type('#depends', 'on its own battery')
    await click('.big')
    expect(onBegin).toHaveBeenCalledWith('on its own battery')
  })

  it('says that the cover stays on', () => {
    mount(WalkIntro, { home: house, walk, onBegin })
    expect(text('ul')).toContain('cover stays on')
    expect(text('.big')).toBe('Go on with the walk')
  })
})

describe('one breaker', () => {
  const on = { onOff: vi.fn(), onSave: vi.fn(), onSkip: vi.fn(), onFinish: vi.fn() }
  const show = (more = {}) =>
    mount(WalkStep, { home: house, circuit: desk, timed: false, done: false, off: null, otherOff: '', ...on, ...more })
  beforeEach(() => Object.values(on).forEach((f) => f.mockClear()))

  it('is off first, and may be skipped', async () => {
    show()
    expect(text('.breaker')).toBe('5 Desk 15 A')
    saying('Skip it').click()
    expect(on.onSkip).toHaveBeenCalledWith(1)
    await click('.big')
    expect(on.onOff).toHaveBeenCalled()
  })

  it('waits while another one is off', () => {
    show({ otherOff: 'Hall' })
    expect(text('[role=alert]')).toContain('Hall is still off')
    expect(element<HTMLButtonElement>('.big').disabled).toBe(true)
  })

  it('gives what went dark, its name and rooms when it is on again', async () => {
    show({ off: Date.now() - 65_000 })
    expect(text('section')).toContain('Off for 1 m 05 s')
    await type('#w-name', 'Study')
    await type('#w-room', 'study, hall')
    await type('#w-dark', 'left outlet')
    await click('.big')
    expect(on.onSave).toHaveBeenCalledWith({
      name: 'Study',
      room: 'study, hall',
      loads: ['lamp'],
      added: [],
      dark: 'left outlet',
    })
  })

  it('urges to switch back what someone depends on', () => {
    show({ timed: true, off: Date.now() - 200_000 })
    expect(text('section')).toContain('long enough, switch it back on')
    show({ timed: true, off: Date.now() - 20_000 })
    expect(text('section')).not.toContain('long enough')
  })
})

describe('what went dark', () => {
  it('offers what is thought here, what has no circuit, any other, and what nobody listed', async () => {
    const onLoads = vi.fn()
    const onAdded = vi.fn()
    mount(DarkList, {
      home: house,
      circuit: desk,
      loads: ['lamp'],
      added: ['Chime'],
      'onUpdate:loads': onLoads,
      'onUpdate:added': onAdded,
    })
    expect(texts('label.row')).toEqual(['Lamp', 'Clock so far on no circuit yet'])
    expect(texts('option')).toEqual(['another load went off…', 'Fan (assumed on Hall)'])
    await click('label.row input')
    expect(onLoads).toHaveBeenLastCalledWith([])
    await type('select', 'fan')
    expect(onLoads).toHaveBeenLastCalledWith(['lamp', 'fan'])
    await type('.new input', ' Shed lamp ')
    await submit('.new')
    expect(onAdded).toHaveBeenLastCalledWith(['Chime', 'Shed lamp'])
    saying('not that').click()
    expect(onAdded).toHaveBeenLastCalledWith([])
  })
})

describe('the end', () => {
  const on = { onEnd: vi.fn(), onBack: vi.fn(), onAdd: vi.fn() }

  it('asks whether all are back on, and takes a breaker nobody had listed', async () => {
    mount(WalkEnd, { home: { ...house, household: { ...house.household, walk } }, plan: 'p', left: 2, ...on })
    expect(text('h1')).toBe('Are all breakers back on?')
    expect(text('section')).toContain('2 breakers aren’t done yet')
    saying('All are back on').click()
    expect(on.onEnd).toHaveBeenCalledWith(true)
    await type('.add input', '99')
    await submit('.add')
    expect(text('[role=alert]')).toBe('Slot: “99” is not one of 1 to 40.')
    expect(on.onAdd).not.toHaveBeenCalled()
    await type('.add input', '9')
    await type('.add label:nth-child(2) input', '-4')
    await submit('.add')
    expect(text('[role=alert]')).toContain('isn’t a breaker rating')
    await type('.add label:nth-child(2) input', '20')
    await submit('.add')
    expect(on.onAdd).toHaveBeenCalledWith(9, 20)
  })

  it('gives the papers when done, and says what is still on its way', async () => {
    const ended = { ...walk, ended: '2026-11-25T09:00:00Z' }
    const { waiting } = useSession()
    waiting.value = [{ edit_id: 'a', label: '', ops: [], base_rev: 1 }]
    mount(WalkEnd, { home: { ...house, household: { ...house.household, walk: ended } }, plan: 'p', left: 0, ...on })
    expect(element('a').getAttribute('href')).toBe('/api/homes/h/labels?plan=p')
    expect(text('[role=status]')).toContain('1 entry is still being saved')
    waiting.value = []
    await nextTick()
    expect(texts('[role=status]')).toEqual([])
  })
})
