import { until } from '@vueuse/core'
import { ref, shallowRef, type Ref } from 'vue'
import { Refused, Unreachable } from '../api/client'
import type { HomeState, Op, Verdict, WatchView } from '../api/types'
import { uniqueId } from '../ids'
import type { EditAnswer, HomeServer } from './homeServer'
import { foreseen, overlap, touched, withNews } from './patch'
import type { Conflict, GaugeLine, NewReading, Pair, Sent, Waiting } from './waitingEdits'
import { WaitingStore } from './waitingStore'

/** What the sessions of one page share. */
export interface PageOfHomes {
  server: HomeServer
  storage: Storage
  /** The server does not answer. */
  offline: Ref<boolean>
  /** Tell the person that looks at the page what went wrong in one of its homes. */
  tell: (session: HomeSession, sentence: string) => void
}

interface Change {
  label: string
  edit_id: string
  paths: string[]
}

/**
 * One open home on one page: its documents, the verdict on the pair that is looked at, and the edits that wait for the server.
 *
 * Every answer belongs to the session that asked. A closed session goes on sending what waits, to its own home.
 */
export class HomeSession {
  readonly state = shallowRef<HomeState | null>(null)
  readonly verdict = shallowRef<Verdict | null>(null)
  readonly pair = ref<Pair>({ plan: '', outage: '' })
  readonly waiting = shallowRef<Waiting[]>([])
  readonly conflict = shallowRef<Conflict | null>(null)
  readonly pouring = ref(false)
  /** The newest revision that this page has seen. */
  readonly served = ref(0)
  /** A watched station, as it was seen last, and when that came in by this page's own count. */
  readonly station = shallowRef<(WatchView & { heard: number }) | null>(null)

  /** The documents as the server has them, without what still waits here. */
  private kept: HomeState | null = null
  private readonly store: WaitingStore
  private readonly settling = new Map<string, (how: Sent) => void>()
  /** Ids of what this page did without waiting edits, such as undo: never another's change to warn of. */
  private readonly own = new Set<string>()
  private stopListening: (() => void) | null = null
  private sending = false
  /** An undo or redo is on its way; edits made meanwhile wait for its answer, or they would clash with it. */
  private readonly turning = ref(false)

  constructor(
    readonly id: string,
    private readonly page: PageOfHomes,
  ) {
    this.store = new WaitingStore(id, page.storage)
  }

  /** Whether nothing is left to send. */
  get idle(): boolean {
    return !this.sending && !this.turning.value && (!this.waiting.value.length || this.conflict.value !== null)
  }

  /** Fetch the home and show the pair that was looked at last. Throws Refused where there is no such home. */
  async load(plan?: string, outage?: string): Promise<void> {
    const last = JSON.parse(this.page.storage.getItem(this.pairKey) ?? '{}') as Partial<Pair>
    this.pair.value = { plan: plan ?? last.plan ?? '', outage: outage ?? last.outage ?? '' }
    const found = await this.page.server.fetchHome(this.id)
    this.adoptWaiting()
    this.take(found, null)
    this.show()
    await this.judge()
    void this.send()
  }

  /** Hear of changes made elsewhere from here on. */
  listen(): void {
    this.unlisten()
    this.stopListening = this.page.server.listen(this.id, {
      revision: (rev) => {
        if (rev > this.served.value && !this.sending && !this.turning.value && !this.conflict.value) void this.refresh()
      },
      station: (view) => this.heard(view),
      lost: () => (this.page.offline.value = true),
      back: () => {
        if (!this.page.offline.value) return
        this.page.offline.value = false
        void this.refresh()
        void this.send()
      },
    })
  }

  unlisten(): void {
    this.stopListening?.()
    this.stopListening = null
  }

  /** Fetch the home again, as after an edit in another tab. */
  async refresh(): Promise<void> {
    try {
      this.take(await this.page.server.fetchHome(this.id), null)
      this.page.offline.value = false
      await this.judge()
    } catch (error) {
      this.tell(error)
    }
  }

  /** Change something. It is shown at once, sent in order, and kept in the browser until the server has it. */
  edit(label: string, asked: Op[], trial = false): void {
    const now = this.state.value
    if (!now || !asked.length) return
    // As it will be sent: a page may hold a reactive view, which cannot be copied otherwise.
    const ops = JSON.parse(JSON.stringify(asked)) as Op[]
    this.state.value = foreseen(now, ops)
    this.settlePair(this.state.value)
    this.queue({ label, ops, trial })
  }

  noteReading(reading: NewReading): void {
    if (!this.state.value) return
    this.queue({ label: reading.text, ops: [], reading })
  }

  /** Note a reading of the gauge during an outage; resolves once it is kept, refused, or known to wait. */
  noteGauge(gauge: GaugeLine): Promise<Sent> {
    const { edit_id } = this.queue({ label: `Gauge: ${gauge.text}`, ops: [], gauge })
    return new Promise<Sent>((resolve) => this.settling.set(edit_id, resolve))
  }

  heard(view: WatchView): void {
    this.station.value = view.on ? { ...view, heard: performance.now() } : null
  }

  /** Have the server do something that is an edit too; returns false when it did not. */
  async act(
    call: (home: string, body: { edit_id: string; judge: Pair; since: number | null }) => Promise<EditAnswer>,
  ): Promise<boolean> {
    if (!this.state.value) return false
    const edit_id = this.newOwnId()
    try {
      await this.hear(await call(this.id, { edit_id, judge: { ...this.pair.value }, since: this.kept?.rev ?? null }))
      return true
    } catch (error) {
      this.tell(error)
      return false
    }
  }

  /** Answer a conflict: keep mine over theirs, or let theirs stand. */
  async settle(keepMine: boolean): Promise<void> {
    const clash = this.conflict.value
    if (!clash) return
    if (keepMine) this.replace(clash.mine)
    else {
      this.done(clash.mine)
      this.settled(clash.mine, 'refused')
    }
    this.conflict.value = null
    await this.refresh()
    void this.send()
  }

  /**
   * Undo or redo the edit that is shown as next when this is called: one still on its way counts.
   * Where another edit came in between, nothing is undone and the reader is told.
   */
  async turn(way: 'undo' | 'redo'): Promise<void> {
    while (this.turning.value) await until(this.turning).toBe(false)
    const last = this.waiting.value.at(-1)
    const takes = way === 'undo' && last ? last.edit_id : this.next(way)
    const busy = () =>
      this.turning.value || (this.waiting.value.length > 0 && !this.page.offline.value && !this.conflict.value)
    while (busy()) await until(busy).toBe(false)
    if (this.waiting.value.length || !this.state.value?.[way] || !takes) return
    if (way === 'undo' && last && this.next(way) !== takes) return // It was refused or dropped: there is nothing of it to undo.
    this.turning.value = true
    this.pouring.value = true
    const base = this.served.value
    try {
      const body = { edit_id: this.newOwnId(), takes, judge: { ...this.pair.value }, since: this.kept?.rev ?? null }
      const result = await this.page.server.turn(this.id, way, body)
      this.rebase(base, result.news.rev)
      await this.hear(result)
      if (!result.verdict) await this.judge()
    } catch (error) {
      await this.turnFailed(way, error)
    } finally {
      this.turning.value = false
      this.pouring.value = false
      void this.send()
    }
  }

  /** Look at another pair of plan and outage. */
  async choose(next: Partial<Pair>): Promise<void> {
    // A plan that was only just made is not asked about before the server has it.
    const making = () => this.waiting.value.length > 0 && !this.page.offline.value && !this.conflict.value
    while (making()) await until(making).toBe(false)
    this.pair.value = { ...this.pair.value, ...next }
    this.page.storage.setItem(this.pairKey, JSON.stringify(this.pair.value))
    await this.judge()
  }

  /** Send what waits, oldest first. */
  async send(): Promise<void> {
    if (this.sending || this.turning.value || this.conflict.value) return
    this.sending = true
    this.pouring.value = this.waiting.value.length > 0
    try {
      while (this.waiting.value[0] && !this.conflict.value) await this.sendOne(this.waiting.value[0])
    } finally {
      this.sending = false
      this.pouring.value = false
    }
  }

  private get pairKey(): string {
    return `imbuto.pair.${this.id}`
  }

  private next(way: 'undo' | 'redo'): string | null {
    return (way === 'undo' ? this.state.value?.undo_edit : this.state.value?.redo_edit) ?? null
  }

  private newOwnId(): string {
    const id = uniqueId()
    this.own.add(id)
    return id
  }

  /** What an earlier visit left behind, or another tab has not sent yet: an edit sent twice counts once. */
  private adoptWaiting(): void {
    if (this.waiting.value.length) return // Its own come first; what another tab left is sent by that tab or a later visit.
    this.waiting.value = this.store.all()
  }

  private queue(what: Omit<Waiting, 'edit_id' | 'base_rev' | 'knows'>): Waiting {
    const knows = this.shownWaiting()
    // Another's edit may lie hidden beneath one that waits here, so nothing counts as newer than the oldest that waits.
    const base_rev = Math.min(this.served.value, ...this.waiting.value.map((w) => w.base_rev))
    const edit = { ...what, edit_id: uniqueId(), base_rev, knows }
    this.waiting.value = [...this.waiting.value, edit]
    this.store.put(edit)
    void this.send()
    return edit
  }

  /** Ids of the edits that wait and can be seen: another tab's may lie hidden beneath one that was made without knowing it. */
  private shownWaiting(): string[] {
    const all = this.waiting.value
    const hides = (later: Waiting, w: Waiting) =>
      !later.knows?.includes(w.edit_id) && overlap(touched(later.ops), touched(w.ops))
    return all.filter((w, i) => !all.slice(i + 1).some((later) => hides(later, w))).map((w) => w.edit_id)
  }

  private settlePair(next: HomeState): void {
    const { plan, outage } = this.pair.value
    const there = {
      plan: next.plans.some((p) => p.id === plan) ? plan : (next.plans[0]?.id ?? ''),
      outage: next.outages.some((o) => o.id === outage) ? outage : (next.outages[0]?.id ?? ''),
    }
    if (there.plan !== plan || there.outage !== outage) this.pair.value = there
  }

  /** trouble: why there is no verdict on what was kept, in the server's words. */
  private take(next: HomeState, judged: Verdict | null | undefined, trouble = ''): void {
    if (next.id !== this.id || (this.kept && next.rev < this.kept.rev)) return // An older answer that came later.
    this.settlePair(next)
    this.kept = next
    this.show()
    this.served.value = next.rev
    const { plan, outage } = this.pair.value
    if (judged && judged.plan === plan && judged.outage === outage) this.verdict.value = judged
    if (trouble) {
      this.page.tell(this, trouble)
      this.verdict.value = null
    }
  }

  /** Show the kept documents with what still waits laid over them. */
  private show(): void {
    if (!this.kept) return
    let shown = this.kept
    for (const edit of this.waiting.value) {
      try {
        shown = foreseen(shown, edit.ops)
      } catch {
        // Its place is gone by another's edit: the server will refuse it, and says so then.
      }
    }
    this.state.value = shown
  }

  /** Take an answer's news, laid over what was kept; fetched whole where the two do not meet. */
  private async hear(result: EditAnswer): Promise<void> {
    const { news } = result
    if (this.kept && news.rev < this.kept.rev) return // What was fetched meanwhile is newer.
    const next = withNews(this.kept, news) ?? (await this.page.server.fetchHome(this.id))
    this.take(next, result.verdict, result.problem)
  }

  private async judge(): Promise<void> {
    const { plan, outage } = this.pair.value
    if (!this.state.value || !plan || !outage) {
      this.verdict.value = null
      return
    }
    this.pouring.value = true
    try {
      const judged = await this.page.server.judge(this.id, { plan, outage })
      if (this.pair.value.plan === plan && this.pair.value.outage === outage) this.verdict.value = judged
    } catch (error) {
      this.tell(error)
    } finally {
      this.pouring.value = false
    }
  }

  private tell(error: unknown): void {
    if (error instanceof Unreachable) this.page.offline.value = true
    else this.page.tell(this, error instanceof Error ? error.message : String(error))
  }

  private async sendOne(next: Waiting): Promise<void> {
    try {
      const result = await this.page.server.post(this.id, next, this.pair.value, this.kept?.rev ?? null)
      this.done(next)
      this.settled(next, 'kept')
      this.rebase(next.base_rev, result.news.rev, next.edit_id)
      this.page.offline.value = false
      await this.hear(result)
    } catch (error) {
      await this.sendFailed(next, error)
    }
  }

  private async sendFailed(next: Waiting, error: unknown): Promise<void> {
    if (error instanceof Unreachable) {
      this.page.offline.value = true
      for (const w of this.waiting.value) this.settled(w, 'later')
      await this.page.server.pause()
    } else if (error instanceof Refused && error.body.kind === 'stale') {
      const changes = (error.body.changes ?? []) as unknown as Change[]
      const known = new Set([...this.own, ...(next.knows ?? [])])
      const clash = changes.filter((c) => !known.has(c.edit_id) && overlap(touched(next.ops), c.paths))
      const rebased = { ...next, base_rev: error.body.rev ?? next.base_rev }
      // What clashes keeps its old revision until somebody decides, so that a reload asks again.
      if (clash.length) this.conflict.value = { mine: rebased, theirs: clash.map((c) => c.label) }
      else this.replace(rebased)
    } else {
      this.done(next)
      this.settled(next, 'refused')
      this.show()
      this.tell(error)
      await this.refresh()
    }
  }

  private async turnFailed(way: 'undo' | 'redo', error: unknown): Promise<void> {
    if (!(error instanceof Refused && error.body.kind === 'stale')) return this.tell(error)
    await this.refresh()
    const label = this.state.value?.[way]
    const now = label ? ` ${way === 'undo' ? 'Undo' : 'Redo'} now means “${label}”.` : ''
    this.page.tell(
      this,
      `Nothing was ${way === 'undo' ? 'undone' : 'redone'}, because this home was changed elsewhere.${now}`,
    )
  }

  /**
   * Move edits from the revision they were made on to the one that what they knew of led to.
   * Only by one step: with another's edit in between, the server has to say what it touched.
   */
  private rebase(base: number, rev: number, sent?: string): void {
    if (rev !== base + 1) return
    for (const w of this.waiting.value) {
      if (w.base_rev === base && (!sent || w.knows?.includes(sent))) this.replace({ ...w, base_rev: rev })
    }
  }

  private replace(edit: Waiting): void {
    this.waiting.value = this.waiting.value.map((w) => (w.edit_id === edit.edit_id ? edit : w))
    this.store.update(edit)
  }

  private settled(edit: Waiting, how: Sent): void {
    this.settling.get(edit.edit_id)?.(how)
    this.settling.delete(edit.edit_id)
  }

  private done(edit: Waiting): void {
    this.waiting.value = this.waiting.value.filter((w) => w.edit_id !== edit.edit_id)
    this.store.remove(edit.edit_id)
  }
}
