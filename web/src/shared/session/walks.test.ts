import * as fc from 'fast-check'
import { expect, it } from 'vitest'
import { homeState, verdict } from '@/testing/samples'
import { Refused, Unreachable } from '../api/client'
import type { ErrorBody, HomeState, Op } from '../api/types'
import type { EditAnswer, HomeServer, Listeners, TurnBody } from './homeServer'
import { foreseen, touched } from './patch'
import { pageSession } from './pageSession'
import type { Waiting } from './waitingEdits'

interface Kept {
  edit_id: string
  label: string
  rev: number
  paths: string[]
  before: HomeState
  after: HomeState
  undone: boolean
}

const copy = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T
const refused = (body: Record<string, unknown>) => new Refused(body as unknown as ErrorBody)

/** Two homes on a server that answers late, in any order across homes, and can lose an answer or be away. */
class SlowServer {
  away = false
  readonly homes: Record<string, HomeState> = {}
  readonly history: Record<string, Kept[]> = { a: [], b: [] }
  readonly pending: { deliver: () => void; lose: () => void }[] = []
  readonly listeners: { home: string; on: Listeners }[] = []
  readonly faults: string[] = []
  /** The values that a tab had shown when an edit was made there, by the edit's label. */
  readonly knownAt: Record<string, { tab: number; values: Set<unknown> }> = {}
  /** What the undos and redos of each tab brought back. */
  readonly cameBack: Set<unknown>[] = [new Set(), new Set()]
  /** Labels of edits that somebody chose to keep over another's. */
  readonly chosen = new Set<string>()

  constructor() {
    for (const id of ['a', 'b']) {
      const start = homeState(1)
      this.homes[id] = { ...start, id, home: { ...start.home, id, name: id, note: '' } as HomeState['home'] }
    }
  }

  /** A question: carried out when it comes in, answered when the walk says so. */
  private ask<T>(work: () => T): Promise<T> {
    if (this.away) return Promise.reject(new Unreachable())
    let done: { value: T } | { error: unknown }
    try {
      done = { value: copy(work()) }
    } catch (error) {
      done = { error }
    }
    return new Promise<T>((resolve, reject) => {
      const deliver = () => ('value' in done ? resolve(done.value) : reject(done.error as Error))
      this.pending.push({ deliver, lose: () => reject(new Unreachable()) })
    })
  }

  /** What one page sees of this server. */
  forPage(tab: number): HomeServer {
    return {
      fetchHome: (home) => this.ask(() => this.homes[home]!),
      judge: (home, pair) => this.ask(() => verdict({ ...pair, hours: this.homes[home]!.rev })),
      post: (home, edit) => this.ask(() => this.apply(home, edit)),
      turn: (home, way, body) => this.ask(() => this.turned(home, way, body, tab)),
      listen: (home, on) => {
        const entry = { home, on }
        this.listeners.push(entry)
        return () => void this.listeners.splice(this.listeners.indexOf(entry), 1)
      },
      pause: () => Promise.resolve(),
    }
  }

  private apply(home: string, edit: Waiting): EditAnswer {
    const now = this.homes[home]!
    for (const op of edit.ops) {
      if (!String(op.value).startsWith(`${home}:`)) this.faults.push(`${String(op.value)} was sent to ${home}`)
    }
    if (!this.history[home]!.some((e) => e.edit_id === edit.edit_id)) {
      if (!edit.reading && edit.base_rev !== now.rev) {
        const changes = this.history[home]!.filter((e) => e.rev > edit.base_rev)
        throw refused({ kind: 'stale', sentence: 'Stale.', rev: now.rev, changes: copy(changes) })
      }
      this.checkSeen(home, edit)
      const paths = edit.reading ? ['home/reading'] : touched(edit.ops)
      this.store(home, edit.edit_id, edit.label, foreseen(now, edit.ops), paths)
    }
    return this.news(home)
  }

  /** Nobody overwrites what they never saw, unless asked. */
  private checkSeen(home: string, edit: Waiting) {
    const now = this.homes[home]!.home as unknown as Record<string, unknown>
    for (const op of edit.ops) {
      const before = now[op.path.slice(1)]
      if (this.chosen.has(edit.label) || this.knownAt[edit.label]!.values.has(before)) continue
      this.faults.push(`${edit.label} overwrote ${String(before)} unseen`)
    }
  }

  private turned(home: string, way: 'undo' | 'redo', body: TurnBody, tab: number): EditAnswer {
    const entry = way === 'undo' ? this.toUndo(home) : this.toRedo(home)
    if (!entry || entry.edit_id !== body.takes) {
      throw refused({ kind: 'stale', sentence: 'Another edit.', rev: this.homes[home]!.rev })
    }
    entry.undone = way === 'undo'
    const place = entry.paths[0]!.split('/').at(-1)!
    const to = (way === 'undo' ? entry.before : entry.after).home as unknown as Record<string, unknown>
    // Who undoes and goes on editing knows what came back.
    this.cameBack[tab]!.add(to[place])
    for (const known of Object.values(this.knownAt)) if (known.tab === tab) known.values.add(to[place])
    const now = this.homes[home]!
    const home_ = { ...now.home, [place]: to[place] } as HomeState['home']
    this.homes[home] = this.labelled({ ...now, rev: now.rev + 1, home: home_ })
    this.history[home]!.push({ ...entry, edit_id: body.edit_id, rev: now.rev + 1, undone: false, label: '' })
    return this.news(home)
  }

  private toUndo = (home: string) => this.history[home]!.filter((e) => e.label && !e.undone).at(-1)
  private toRedo = (home: string) => this.history[home]!.find((e) => e.label && e.undone)

  private store(home: string, edit_id: string, label: string, next: HomeState, paths: string[]) {
    const before = this.homes[home]!
    for (const e of this.history[home]!) if (e.undone) e.label = ''
    const after = { ...next, rev: before.rev + 1 }
    this.homes[home] = after
    this.history[home]!.push({ edit_id, label, rev: after.rev, paths, before, after, undone: false })
    this.homes[home] = this.labelled(after)
  }

  private labelled(s: HomeState): HomeState {
    const undo = this.toUndo(s.id)
    const redo = this.toRedo(s.id)
    return {
      ...s,
      undo: undo?.label ?? null,
      redo: redo?.label ?? null,
      undo_edit: undo?.edit_id ?? null,
      redo_edit: redo?.edit_id ?? null,
    }
  }

  private news(home: string): EditAnswer {
    const s = this.homes[home]!
    const ids = { plan_ids: s.plans.map((p) => p.id), outage_ids: s.outages.map((o) => o.id) }
    return { news: { ...s, since: 0, ...ids }, verdict: null, problem: '' }
  }

  tellAll() {
    for (const { home, on } of [...this.listeners]) on.revision(this.homes[home]!.rev)
  }
}

class Memory implements Storage {
  private readonly kept = new Map<string, string>()
  get length() {
    return this.kept.size
  }
  key = (i: number) => [...this.kept.keys()][i] ?? null
  getItem = (key: string) => this.kept.get(key) ?? null
  setItem = (key: string, value: string) => void this.kept.set(key, value)
  removeItem = (key: string) => void this.kept.delete(key)
  clear = () => this.kept.clear()
}

type Page = ReturnType<typeof pageSession>
type InTab =
  | { do: 'open'; tab: number; home: 'a' | 'b' }
  | { do: 'edit'; tab: number; place: string }
  | { do: 'undo' | 'redo' | 'close' | 'reload' | 'read'; tab: number }
  | { do: 'settle'; tab: number; mine: boolean }
type Step = InTab | { do: 'answer' | 'lose'; which: number } | { do: 'away' | 'back' | 'tell' }

const tab = fc.nat({ max: 1 })
const steps: fc.Arbitrary<Step> = fc.oneof(
  { weight: 4, arbitrary: fc.record({ do: fc.constant('open' as const), tab, home: fc.constantFrom('a', 'b') }) },
  {
    weight: 6,
    arbitrary: fc.record({ do: fc.constant('edit' as const), tab, place: fc.constantFrom('note', 'name') }),
  },
  {
    weight: 5,
    arbitrary: fc.record({ do: fc.constantFrom('undo' as const, 'redo', 'close', 'reload', 'read', 'read'), tab }),
  },
  { weight: 2, arbitrary: fc.record({ do: fc.constant('settle' as const), tab, mine: fc.boolean() }) },
  {
    weight: 9,
    arbitrary: fc.record({ do: fc.constantFrom('answer' as const, 'answer', 'answer', 'lose'), which: fc.nat() }),
  },
  { weight: 2, arbitrary: fc.record({ do: fc.constantFrom('away' as const, 'back', 'back', 'tell') }) },
)

/** Both tabs have a home open; which, the walk goes on to change. */
const start: Step[] = [
  { do: 'open', tab: 0, home: 'a' },
  { do: 'open', tab: 1, home: 'a' },
  ...Array.from({ length: 6 }, () => ({ do: 'answer' as const, which: 0 })),
]

const breathe = async () => {
  for (let i = 0; i < 12; i++) await Promise.resolve()
}

class Walk {
  readonly server = new SlowServer()
  readonly storage = new Memory()
  readonly pages: Page[] = [this.fresh(0), this.fresh(1)]
  readonly made: Record<string, string[]> = { a: [], b: [] }
  private readonly shown: Set<unknown>[] = [new Set(), new Set()]
  private readonly newest: Record<number, { home: string; rev: number }> = {}
  private count = 0

  private fresh(tab: number): Page {
    return pageSession(this.server.forPage(tab), this.storage)
  }

  async take(step: Step) {
    if (step.do === 'answer' || step.do === 'lose') {
      const [one] = this.server.pending.splice(step.which % Math.max(this.server.pending.length, 1), 1)
      if (step.do === 'answer') one?.deliver()
      else one?.lose()
    } else if (step.do === 'away' || step.do === 'back') this.server.away = step.do === 'away'
    else if (step.do === 'tell') this.server.tellAll()
    else this.act(step as InTab)
    await breathe()
    this.pages.forEach((page, tab) => this.look(page, tab))
  }

  private act(step: InTab) {
    const page = this.pages[step.tab]!
    const { state } = page.fields
    if (step.do === 'open' || step.do === 'close' || step.do === 'reload') delete this.newest[step.tab]
    if (step.do === 'open') page.acts.open(step.home).catch(() => undefined)
    else if (step.do === 'close') page.acts.close()
    else if (step.do === 'reload') this.pages[step.tab] = this.fresh(step.tab)
    else if (step.do === 'settle') this.settleConflict(page, step.mine)
    else if (step.do === 'edit' && state.value) {
      const value = `${state.value.id}:${++this.count}`
      const op: Op[] = [{ doc: 'home', op: 'replace', path: `/${step.place}` as Op['path'], value }]
      this.made[state.value.id]!.push(value)
      this.server.knownAt[value] = {
        tab: step.tab,
        values: new Set([...this.shown[step.tab]!, ...this.server.cameBack[step.tab]!]),
      }
      page.acts.edit(value, op)
    } else if (step.do === 'read' && state.value) {
      const text = `${state.value.id}:${++this.count}`
      this.made[state.value.id]!.push(text)
      page.acts.noteReading({ text })
    } else if (step.do === 'undo') void page.acts.undo()
    else if (step.do === 'redo') void page.acts.redo()
  }

  private settleConflict(page: Page, mine: boolean) {
    const clash = page.fields.conflict.value
    // Who answers has been told of the other edits, so what is changed there from here on is meant.
    for (const known of Object.values(this.server.knownAt))
      for (const label of clash?.theirs ?? []) known.values.add(label)
    if (clash && mine) this.server.chosen.add(clash.mine.label)
    void page.acts.settle(mine)
  }

  /** What a page shows belongs to the home that it shows. */
  private look(page: Page, tab: number) {
    const shown = page.fields.state.value
    const last = this.newest[tab]
    const rev = page.fields.served.value
    if (shown && last?.home === shown.id && rev < last.rev) this.server.faults.push(`${shown.id} went back to ${rev}`)
    if (shown) this.newest[tab] = { home: shown.id, rev }
    else delete this.newest[tab]
    if (!shown) return
    for (const value of [shown.home.note, shown.home.name]) this.shown[tab]!.add(value)
    for (const said of [shown.home.note, shown.home.name]) {
      if (said && !said.startsWith(shown.id)) this.server.faults.push(`${shown.id} shows ${said}`)
    }
    const labels = [shown.undo, shown.redo].filter(Boolean)
    for (const label of labels) if (!label!.startsWith(shown.id)) this.server.faults.push(`${shown.id} undoes ${label}`)
  }

  /** Answer everything, keep every edit, and open both homes once more. */
  async settle() {
    this.server.away = false
    const drain = async () => {
      for (let i = 0; i < 60; i++) {
        for (const page of this.pages) if (page.fields.conflict.value) this.settleConflict(page, true)
        this.server.pending.splice(0).forEach((p) => p.deliver())
        await breathe()
      }
    }
    await drain()
    for (const home of ['a', 'b']) {
      this.pages[0]!.acts.close()
      this.pages[0]!.acts.open(home).catch(() => undefined)
      await drain()
      expect(this.pages[0]!.fields.waiting.value).toEqual([])
      expect(this.pages[0]!.fields.state.value?.home).toEqual(this.server.homes[home]!.home)
    }
  }
}

it(
  'keeps every edit in its own home, in every order of opening, editing, answering and undoing',
  { timeout: 120_000 },
  async () => {
    await fc.assert(
      fc.asyncProperty(fc.array(steps, { minLength: 20, maxLength: 60, size: 'max' }), async (walk) => {
        const w = new Walk()
        for (const step of start) await w.take(step)
        for (const step of walk) await w.take(step)
        await w.settle()
        expect(w.server.faults).toEqual([])
        for (const home of ['a', 'b']) {
          const ids = w.server.history[home]!.map((e) => e.edit_id)
          expect(new Set(ids).size).toBe(ids.length)
          const arrived = new Set(w.server.history[home]!.flatMap((e) => (e.label ? [e.label] : [])))
          for (const label of arrived) expect(w.made[home]).toContain(label)
        }
      }),
      { numRuns: Number(process.env.WALKS ?? 2000), seed: 20261130 },
    )
  },
)
