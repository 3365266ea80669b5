import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { ref } from 'vue'
import type { BookView, ProcedureView } from '@/shared/api/types'
import { useSession } from '@/shared/session/session'
import { click, element, mount, saying, submit, text, texts, type } from '@/testing/mount'
import BackAgain from './components/BackAgain.vue'
import PromiseBars from './components/PromiseBars.vue'
import SwitchNow from './components/SwitchNow.vue'
import TestLines from './components/TestLines.vue'
import { useHomeClock } from './homeClock'

const edits: { label: string; ops: { path: string; value?: unknown }[] }[] = []
vi.mock('@/shared/session/session', async (actual) => ({
  ...(await actual<typeof import('@/shared/session/session')>()),
  edit: (label: string, ops: (typeof edits)[number]['ops']) => edits.push({ label, ops }),
}))
beforeEach(() => edits.splice(0))

type Line = ProcedureView['procedure']['lines'][number]
const line = (more: Partial<Line>): Line =>
  ({
    id: 'a',
    what: 'It works',
    unit: 'yes',
    expected: null,
    within: 0,
    many: false,
    second: null,
    fails: '',
    ...more,
  }) as Line
const row = (id: string, value: number, ok: boolean | null = null, of = 'a') => ({
  id,
  line: of,
  at: '2026-11-24T18:05:00',
  value,
  second: null,
  note: '',
  ok,
})

describe('the lines of a test', () => {
  it('take yes and no, with words', async () => {
    const noted: unknown[][] = []
    mount(TestLines, { lines: [line({})], rows: [], going: true, onNote: (...of: unknown[]) => noted.push(of) })
    await type('.words input', ' serial 42 ')
    saying('yes').click()
    saying('no').click()
    expect(noted).toEqual([
      ['a', 1, null, 'serial 42'],
      ['a', 0, null, ''],
    ])
  })
  it('take a figure in its unit, and nothing that is none', async () => {
    const noted: unknown[][] = []
    const lines = [line({ unit: 'W', expected: 400, within: 40 })]
    mount(TestLines, { lines, rows: [], going: true, onNote: (...of: unknown[]) => noted.push(of) })
    expect(text('li')).toContain('expected 400 W ± 40 W')
    await type('form input', 'many')
    expect(element<HTMLButtonElement>('form .btn').disabled).toBe(true)
    await submit('form')
    await type('form input', '1,5 kW')
    await submit('form')
    expect(noted).toEqual([['a', 1500, null, '']])
  })
  it('take the charge a start was tried at beside it', async () => {
    const noted: unknown[][] = []
    mount(TestLines, {
      lines: [line({ second: '%' })],
      rows: [],
      going: true,
      onNote: (...of: unknown[]) => noted.push(of),
    })
    await type('label input', '60')
    saying('yes').click()
    expect(noted).toEqual([['a', 1, 60, '']])
  })
  it('show the last row, or every one of a line that has many, and what it means where it is wrong', () => {
    const lines = [line({ unit: 'W', expected: 9, fails: 'Its fuse.' }), line({ id: 'b', unit: '%', many: true })]
    const rows = [row('1', 3, false), row('2', 4, false), row('3', 99, null, 'b'), row('4', 98, null, 'b')]
    mount(TestLines, { lines, rows, going: false })
    expect(texts('ul li b')).toEqual(['4 W', '· not as expected', '99%', '98%'])
    expect(text('.fails')).toBe('Its fuse.')
    expect(document.querySelectorAll('button')).toHaveLength(0)
  })
  it('let a row be taken back while the test goes on', () => {
    const dropped: string[] = []
    mount(TestLines, {
      lines: [line({})],
      rows: [row('7', 1, true)],
      going: true,
      onDrop: (id: string) => dropped.push(id),
    })
    saying('undo').click()
    expect(dropped).toEqual(['7'])
  })
})

const place = (feed: string, more: object = {}) => ({
  feed,
  name: `Circuit ${feed}`,
  device: 'Switch',
  place: Number(feed),
  by_hand: true,
  on: true,
  noted: '',
  planned_w: 60,
  most_w: 140,
  steps_w: null,
  says: '',
  ...more,
})
const now = () => '2026-11-24T22:00:00'

describe('the switch as it is', () => {
  it('notes what a hand did, with a name and a time, and switches nothing', async () => {
    localStorage.setItem('imbuto.who', 'Ada')
    mount(SwitchNow, { places: [place('1')], cold: [], switched: {}, now })
    expect(text('p')).toContain('Imbuto switches nothing')
    await click('input[type=checkbox]')
    const [only] = edits
    expect(only?.label).toBe('Circuit 1: switched off by hand')
    expect(only?.ops[0]?.path).toMatch(/^\/live\/switched\/s-/)
    expect(only?.ops[0]?.value).toMatchObject({ feed: '1', on: false, at: now(), who: 'Ada' })
  })
  it('shows what was ticked before the server has answered', () => {
    const switched = { s1: { id: 's1', feed: '1', on: false, at: '2026-11-24T21:00:00', who: '' } }
    mount(SwitchNow, { places: [place('1'), place('2')], cold: [], switched, now })
    expect(texts('li small')[0]).toContain('off, planned 60 W · someone, Tue 9:00 pm')
    expect([...document.querySelectorAll<HTMLInputElement>('input[type=checkbox]')].map((x) => x.checked)).toEqual([
      false,
      true,
    ])
  })
  it('has no tick where gear changes over by itself, and says what a step means', () => {
    const places = [place('1', { by_hand: false }), place('2', { steps_w: 900, says: 'more than hangs on it' })]
    mount(SwitchNow, { places, cold: [], switched: {}, now })
    expect(document.querySelectorAll('input[type=checkbox]')).toHaveLength(1)
    expect(text('ol')).toContain('by itself')
    expect(text('ol')).toContain('the meter changed by 900 W')
    expect(text('strong')).toContain('more than hangs on it')
  })
  it('counts the minutes a cold box was open', () => {
    const cold = [{ load: 'fridge', name: 'Fridge', off_since: '2026-11-24T18:00:00', opened: 3, limit_at: null }]
    mount(SwitchNow, { places: [], cold, switched: {}, now })
    expect(text('ul')).toContain('Its door was open 3 m')
    expect(text('ul')).toContain('the room is cold enough')
    saying('opened, a minute').click()
    expect(edits[0]?.ops[0]?.value).toMatchObject({ load: 'fridge', minutes: 1, at: now() })
  })
})

const outcome = (more: Partial<BookView['outcomes'][number]>) => ({
  lived: 'x',
  began: '2026-11-24T18:00:00',
  plan: 'Plan',
  source: 'main',
  name: 'Tun',
  promised: true,
  promised_h: 20,
  low_h: 16,
  lasted_h: 10,
  dark_h: null,
  used: 0.5,
  scale: 1,
  scale_error: 0.1,
  idle_w: 20,
  readings: 3,
  says: 'As planned.',
  lost: '',
  ...more,
})

describe('promise and outcome', () => {
  it.each([
    [{}, 'promised 20 h, 9 in 10 at least 16 h; the grid was back after 10 h, never without power'],
    [{ dark_h: 9 }, 'promised 20 h, 9 in 10 at least 16 h; ran out after 9 h'],
    [{ promised_h: null, low_h: null }, 'no end expected; the grid was back after 10 h, never without power'],
    [
      { promised: false, promised_h: null, low_h: null },
      'no estimate; the grid was back after 10 h, never without power',
    ],
  ])('are told in words', (more, words) => {
    mount(PromiseBars, { outcomes: [outcome(more)] })
    expect(element('.axis').getAttribute('aria-label')).toBe(words)
  })
  it('stand on one axis', () => {
    mount(PromiseBars, { outcomes: [outcome({}), outcome({ lived: 'y', dark_h: 5, promised_h: 40 })] })
    const width = (i: number, kind: string) => document.querySelectorAll<HTMLElement>(`.axis .${kind}`)[i]?.style.width
    expect([width(0, 'promised'), width(1, 'promised'), width(1, 'lasted')]).toEqual(['50%', '100%', '12.5%'])
    expect(document.querySelectorAll('.lasted.dark')).toHaveLength(1)
  })
})

const refill = (more: object) => ({
  source: 'main',
  name: 'Tun',
  charge: 0.4,
  read_at: '2026-11-24T18:00:00',
  watts: 1500,
  full_at: '2026-11-24T23:00:00',
  amps: '12.5 A of Garage’s 20 A breaker',
  fits: true,
  how: 'Plug in its charging cord.',
  confirmed: '',
  now_h: '5 h',
  ...more,
})
const back = (more: object) =>
  mount(BackAgain, { back: { lived: 'x', ended: '2026-11-24T18:00:00', stores: [refill(more)] } })

describe('the grid is back', () => {
  it('asks to see that it charges, and says what a second outage would meet', () => {
    back({})
    expect(text('article')).toContain('Charging isn’t confirmed yet')
    expect(text('article')).toContain('“40% in 1,500 W”')
    expect(text('article')).toContain('about 5 h from its charge')
  })
  it('says so once it does, and warns where its circuit does not bear it', () => {
    back({ confirmed: '1,480 W into it', fits: false })
    expect(text('article')).toContain('It charges: 1,480 W into it')
    expect(text('[role=alert]')).toContain('isn’t rated for')
    expect(text('article')).not.toContain('Not seen')
  })
  it('is done when it is full', () => {
    back({ charge: 1, full_at: null })
    expect(text('article')).toContain('It is full')
    expect(text('article')).not.toContain('goes out again')
  })
})

describe("the home's clock", () => {
  beforeEach(() => vi.useFakeTimers())
  afterEach(() => {
    vi.useRealTimers()
    useSession().station.value = null
  })
  const within = (said: string | undefined) => {
    let found: ReturnType<typeof useHomeClock> | null = null
    mount({
      setup() {
        found = useHomeClock(ref(said))
        return () => null
      },
    })
    if (!found) throw new Error('no clock')
    return found as ReturnType<typeof useHomeClock>
  }
  it('goes on from what the server said', () => {
    const clock = within('2026-11-24T18:00:00')
    vi.advanceTimersByTime(90_000)
    expect(clock.now()).toBe('2026-11-24T18:01:30')
  })
  it('goes as fast as a watched station', () => {
    const station = { on: true, at: '2026-11-24T18:00:00', speed: 1440, heard: performance.now() }
    useSession().station.value = station as never
    const clock = within('2026-01-01T00:00:00')
    vi.advanceTimersByTime(10_000)
    expect(clock.now()).toBe('2026-11-24T22:00:00')
  })
})
