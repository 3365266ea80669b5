import type { HomeNews, HomeState, Key, Op } from '../api/types'

type Tree = Record<string, unknown>

const unescape = (part: string) => part.replace(/~1/g, '/').replace(/~0/g, '~')
export const escape = (part: string) => part.replace(/~/g, '~0').replace(/\//g, '~1') as Key

/** A copy of a document with one operation done; throws when there is nothing to change. */
export function applied<T>(document: T, op: Op): T {
  const copy = structuredClone(document) as Tree
  const parts = op.path.split('/').slice(1).map(unescape)
  const last = parts.pop()
  if (last === undefined) return op.value as T
  let at: Tree = copy
  for (const part of parts) {
    const next = at[part]
    if (typeof next !== 'object' || next === null) throw new Error(`nothing at ${op.path}`)
    at = next as Tree
  }
  if (op.op === 'remove') delete at[last]
  else at[last] = op.value
  return copy as T
}

/** The home's state as it will be after an edit, shown before the server has answered. */
export function foreseen(state: HomeState, ops: Op[]): HomeState {
  const next: HomeState = { ...state, plans: [...state.plans], outages: [...state.outages] }
  for (const op of ops) {
    if (op.doc === 'home') {
      next.home = applied(next.home, op)
    } else if (op.path === '') {
      next.plans = next.plans.filter((p) => p.id !== op.doc)
      next.outages = next.outages.filter((o) => o.id !== op.doc)
      if (op.op === 'add' && op.kind === 'plan') next.plans.push(op.value as HomeState['plans'][number])
      if (op.op === 'add' && op.kind === 'outage') next.outages.push(op.value as HomeState['outages'][number])
    } else {
      next.plans = next.plans.map((p) => (p.id === op.doc ? applied(p, op) : p))
      next.outages = next.outages.map((o) => (o.id === op.doc ? applied(o, op) : o))
    }
  }
  return next
}

/** Whether two edits touch the same place, or one a part of the other. */
export function overlap(mine: string[], theirs: string[]): boolean {
  return mine.some((a) => theirs.some((b) => a === b || a.startsWith(`${b}/`) || b.startsWith(`${a}/`)))
}

export const touched = (ops: Op[]) => ops.map((op) => `${op.doc}${op.path}`)

/** A home with its news laid over what was kept; null where the news begin at another revision. */
export function withNews(kept: HomeState | null, news: HomeNews): HomeState | null {
  if (news.since !== 0 && kept?.rev !== news.since) return null
  const home = news.home ?? kept?.home
  const plans = ordered(news.plan_ids, news.plans, kept?.plans ?? [])
  const outages = ordered(news.outage_ids, news.outages, kept?.outages ?? [])
  if (!home || !plans || !outages) return null
  const { id, rev, undo, redo, undo_edit, redo_edit, trial } = news
  return { id, rev, home, plans, outages, undo, redo, undo_edit, redo_edit, trial }
}

function ordered<T extends { id: string }>(ids: string[], changed: T[], known: T[]): T[] | null {
  const found = ids.map((id) => changed.find((d) => d.id === id) ?? known.find((d) => d.id === id))
  return found.every((d) => d !== undefined) ? (found as T[]) : null
}
