import type { Run } from '@/shared/api/types'
import { clock } from '@/shared/units/format'

/** What is so at one moment of a run. */
export interface Moment {
  clock: string
  charge: number
  low: number
  high: number
  sun: number
  engine: boolean
  dark: boolean
  fed: { feed: string; name: string; w: number }[]
  total: number
}

/** The clock of the house after so many hours; a change of the clocks on the way is left out. */
export function clockAfter(startIso: string, hours: number): string {
  const local = new Date(`${startIso.slice(0, 19)}Z`)
  local.setUTCMinutes(local.getUTCMinutes() + Math.round(hours * 60))
  return clock(local.toISOString())
}

function between(hours: number[], values: number[], at: number): number {
  const last = hours.length - 1
  let i = hours.findIndex((h) => h > at)
  if (i < 0) i = last
  if (i <= 0) return values[0] ?? 0
  const [a = 0, b = 0] = [hours[i - 1], hours[i]]
  const part = b > a ? Math.min(Math.max((at - a) / (b - a), 0), 1) : 0
  return (values[i - 1] ?? 0) + part * ((values[i] ?? 0) - (values[i - 1] ?? 0))
}

export function momentOf(run: Run, at: number): Moment {
  const step = Math.max(
    0,
    run.hour.findLastIndex((h) => h <= at + 1e-9),
  )
  const fed = run.strips.flatMap((s) => {
    const piece = s.pieces.find((p) => p.from_h <= at + 1e-9 && at < p.to_h - 1e-9)
    return piece ? [{ feed: s.feed, name: s.name, w: piece.w }] : []
  })
  const gone = run.dark_h !== null && at >= run.dark_h
  const back = Math.max(-1, ...run.back_h.filter((h) => h <= at))
  return {
    clock: clockAfter(run.start, at),
    charge: between(run.hour, run.charge, at),
    low: between(run.hour, run.low, at),
    high: between(run.hour, run.high, at),
    sun: run.sun[step] ?? 0,
    engine: run.engine.some((e) => e.from_h <= at && at < e.to_h),
    dark: gone && !fed.length && (run.dark_h ?? 0) > back - 1e-9,
    fed: fed.sort((a, b) => b.w - a.w),
    total: fed.reduce((sum, f) => sum + f.w, 0),
  }
}
