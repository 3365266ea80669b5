export const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec']

/** “10–3” or “6, 7” as months; empty is all of them, null what cannot be read. */
export function parseMonths(text: string): number[] | null {
  const plain = text.trim().toLowerCase()
  if (!plain || plain === 'all') return []
  const found: number[] = []
  for (const part of plain.split(/\s*,\s*/)) {
    const ends = part.split(/\s*[-–]\s*/).map(monthOf)
    const [from, to = from] = ends
    if (ends.length > 2 || !from || !to) return null
    for (let m = from; ; m = (m % 12) + 1) {
      if (!found.includes(m)) found.push(m)
      if (m === to) break
    }
  }
  return found
}
function monthOf(word: string): number {
  const named = MONTHS.findIndex((m) => word.startsWith(m.toLowerCase())) + 1
  const n = named || Number(word)
  return Number.isInteger(n) && n >= 1 && n <= 12 ? n : 0
}

/** Months as people write them: “Oct–Mar”, “all year”. */
export function monthsText(months: number[]): string {
  if (!months.length || months.length === 12) return 'all year'
  const runs: number[][] = []
  for (const m of months) {
    const last = runs.at(-1)
    if (last && m === (last.at(-1)! % 12) + 1) last.push(m)
    else runs.push([m])
  }
  const name = (m: number | undefined) => MONTHS[(m ?? 1) - 1] ?? ''
  return runs.map((r) => (r.length === 1 ? name(r[0]) : `${name(r[0])}–${name(r.at(-1))}`)).join(', ')
}
