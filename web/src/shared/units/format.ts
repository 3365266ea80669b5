import { measures } from './measures'

/** How figures are written. Hours are rounded down and loads up, once, here. */

export function floorMinutes(hours: number): number {
  const minutes = Math.floor(hours * 60 + 1e-6)
  return minutes < 180 ? minutes : Math.floor(minutes / 10) * 10
}

export function hoursText(hours: number): string {
  const minutes = floorMinutes(Math.abs(hours))
  const h = Math.floor(minutes / 60)
  const m = minutes % 60
  if (h && m) return `${h} h ${m} m`
  return h ? `${h} h` : `${m} m`
}

export function number(value: number, digits = 0): string {
  return value.toLocaleString('en-US', { minimumFractionDigits: 0, maximumFractionDigits: digits })
}

/** At most one decimal below 100, none above. */
export function amount(value: number): string {
  return number(value, Math.abs(value) >= 100 ? 0 : 1)
}

export function watts(w: number): string {
  // Zero is added so that nothing is ever written as −0.
  return `${number(w > 0 && w < 1 ? w : Math.ceil(w - 1e-9) + 0, w < 1 ? 1 : 0)} W`
}

export function kwh(wh: number): string {
  const value = wh / 1000
  return `${number(value, Math.abs(value) >= 100 ? 0 : Math.abs(value) >= 1 || value === 0 ? 1 : 2)} kWh`
}

export function percent(share: number): string {
  return `${number(share * 100)}%`
}

/** “6:30 pm”, or “18:30”; minutes: also where there are none. */
function timeOfDay(h: number, m: number, minutes: boolean): string {
  const two = String(m).padStart(2, '0')
  if (measures.value.clock === 24) return `${h}:${two}`
  return `${h % 12 || 12}${minutes ? `:${two}` : ''} ${h < 12 ? 'am' : 'pm'}`
}

const DAYS = ['Sun', 'Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat']

/** The clock of an ISO moment as written, in the home's own zone: “Wed 11:10 am”. */
export function clock(iso: string): string {
  const [date = '', time = ''] = iso.split('T')
  const [y = 2000, mo = 1, d = 1] = date.split('-').map(Number)
  const [h = 0, m = 0] = time.split(':').map(Number)
  const day = DAYS[new Date(Date.UTC(y, mo - 1, d)).getUTCDay()]
  return `${day} ${timeOfDay(h, m, true)}`
}

/** A moment on a time axis, in a zone: the day at midnight, else the hour. */
export function axisText(at: Date, timeZone: string, hours: boolean): string {
  if (!hours) return at.toLocaleDateString('en-US', { timeZone, month: 'short', day: 'numeric' })
  const by24 = measures.value.clock === 24
  const shown = at.toLocaleTimeString('en-US', { timeZone, hour: 'numeric', hourCycle: by24 ? 'h23' : 'h12' })
  return by24 ? `${Number(shown)}:00` : shown.toLowerCase()
}

/** An hour of the day: “6:30 am”. */
export function hourOfDay(hour: number): string {
  const minutes = Math.round(hour * 60) % 1440
  const h = Math.floor(minutes / 60)
  const m = minutes % 60
  return timeOfDay(h, m, m > 0)
}

/** Money in the home's currency, whole units. */
export function money(value: number | string, currency: string): string {
  const n = Number(value)
  const sign = n < 0 ? '−' : ''
  return `${sign}${number(Math.abs(n))} ${currency}`
}

export interface ParsedNumber {
  ok: boolean
  value: number
  why: string
}

/** A typed figure: a comma or a point, thousands with blanks, the unit may follow. */
const LENGTHS: Record<string, number> = {
  h: 1,
  hour: 1,
  hours: 1,
  d: 24,
  day: 24,
  days: 24,
  w: 168,
  week: 168,
  weeks: 168,
}
/** Hours as people say them: ``30``, ``30 h``, ``2 days``, ``2 weeks``. */
export function parseHours(text: string): ParsedNumber {
  const match = /^(.+?)\s*([a-z]+)$/i.exec(text.trim())
  const unit = LENGTHS[match?.[2]?.toLowerCase() ?? '']
  if (!match?.[1] || unit === undefined) return parseNumber(text)
  const read = parseNumber(match[1])
  return read.ok ? { ...read, value: read.value * unit } : read
}

export function parseNumber(text: string): ParsedNumber {
  const plain = text.trim().replace(/[\s\u00a0]+/g, ' ')
  const match = /^([+-]?[\d ]*[.,]?\d+(?:[.,]\d+)?)\s*([a-zA-Z%°]*)$/.exec(plain)
  if (!match?.[1]) return { ok: false, value: 0, why: `“${text}” isn’t a number.` }
  const digits = match[1].replace(/ /g, '')
  const thousands = /^[+-]?\d{1,3}(,\d{3})+(\.\d+)?$/.test(digits)
  const value = Number(thousands ? digits.replace(/,/g, '') : digits.replace(',', '.'))
  if (!Number.isFinite(value)) return { ok: false, value: 0, why: `“${text}” isn’t a number.` }
  const unit = (match[2] ?? '').toLowerCase()
  return { ok: true, value: unit === 'kw' || unit === 'kva' ? value * 1000 : value, why: '' }
}
