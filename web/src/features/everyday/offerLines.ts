import { parseNumber } from '@/shared/units/format'

export interface OfferLine {
  name: string
  sum: number
}

/** An item, and an amount at its end, with a currency before or after it. */
const AT_THE_END =
  /^(.*?)[\s:;|=]+(?:[A-Z]{3}|\p{Sc})?\s*(\d{1,3}(?:[ \u00a0]\d{3})+(?:[.,]\d+)?|\d[\d.,]*)\s*(?:[A-Z]{3}|\p{Sc})?$/u

/** The lines of a pasted offer: an item and, at its end, an amount. A line without one is named, and nothing is taken. */
export function offerLines(text: string): { lines: OfferLine[]; why: string } {
  const rows = text.split('\n').filter((x) => x.trim())
  if (!rows.length) return { lines: [], why: 'Paste the lines of the offer, one item per line.' }
  const lines: OfferLine[] = []
  for (const row of rows) {
    const found = AT_THE_END.exec(row.trim())
    const sum = found?.[2] ? parseNumber(found[2]) : null
    if (!found?.[1]?.trim() || !sum?.ok)
      return { lines: [], why: `“${row.trim()}”: no amount at the end of this line.` }
    lines.push({ name: found[1].trim().slice(0, 80), sum: sum.value })
  }
  return { lines, why: '' }
}
