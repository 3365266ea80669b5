import { blanks } from '@/shared/api/blanks'
import type { Circuit, Evidence, Home, HomeState, Load, Op, SubPanel, Verdict, HomePath } from '@/shared/api/types'
import { escape } from '@/shared/session/patch'
import { amount, hourOfDay, number, parseNumber, percent } from '@/shared/units/format'

export type Figures = Record<string, Verdict['loads'][number]>

export function figuresById(verdict: Verdict | null): Figures {
  return Object.fromEntries((verdict?.loads ?? []).map((f) => [f.id, f]))
}

/** Mean W of a circuit over an average week, as the core has it. */
export function circuitWatts(home: Home, circuit: string, figures: Figures): number {
  return Object.values(home.loads)
    .filter((l) => l.circuit === circuit)
    .reduce((sum, l) => sum + (figures[l.id]?.mean_w ?? 0), 0)
}

/** A load's use in a few words: “cycles, 42%”, “10 pm to 7 am”, “7 am, 25 min”. */
export function useText(load: Load, duty: number | null | undefined): string {
  const { use } = load
  if (use.kind === 'cycling') return duty == null ? 'cycles' : `cycles, runs ${percent(duty)}`
  if (use.kind === 'windows') {
    const days = { all: '', weekday: ', weekdays', weekend: ', weekends' }
    return use.windows.map((w) => `${hourOfDay(w.start_h)} to ${hourOfDay(w.end_h)}${days[w.days]}`).join('; ')
  }
  if (use.kind === 'weather') return use.heat_pump ? 'heat pump, by the weather' : 'by the weather'
  if (use.kind === 'daily') {
    const when = use.windows.map((w) => `${hourOfDay(w.start_h)} to ${hourOfDay(w.end_h)}`).join('; ')
    return `${amount(use.hours)} h per day${when ? `, ${when}` : ''}`
  }
  if (use.kind === 'tasks') return `${use.times.map(hourOfDay).join(', ')}, ${amount(use.minutes)} min`
  return 'always'
}

export const EVIDENCE: Evidence[] = ['guess', 'label', 'metered', 'logged']

type Editable = 'average_w' | 'run_w' | 'start_va' | 'count' | 'name' | 'evidence'
/** How long a day a load is in use, where that is how its use is told. */
export const hoursADay = (load: Load) => (load.use.kind === 'daily' ? load.use.hours : null)
const UNIT: Partial<Record<Editable, string>> = { average_w: 'W', run_w: 'W', start_va: 'VA' }
const WHAT: Record<Editable, string> = {
  average_w: 'average',
  run_w: 'running',
  start_va: 'starting',
  count: 'count',
  name: 'name',
  evidence: 'evidence',
}

export interface CellEdit {
  label: string
  ops: Op[]
  problem: string
}

/** What a typed cell of the load table means, or a sentence on why it means nothing. */
export function cellEdit(load: Load, key: string, text: string): CellEdit {
  const field = key as Editable
  const path = `/loads/${escape(load.id)}/${field}` as const
  if (field === 'name' || field === 'evidence') {
    const value = text.trim()
    if (!value) return { label: '', ops: [], problem: 'A load needs a name.' }
    if (field === 'evidence' && !EVIDENCE.includes(value as Evidence))
      return { label: '', ops: [], problem: `“${value}” is not one of ${EVIDENCE.join(', ')}.` }
    return {
      label: `${load.name}: ${WHAT[field]} ${value}`,
      ops: [{ doc: 'home', op: 'replace', path, value }],
      problem: '',
    }
  }
  if (key === 'hours') return hoursEdit(load, text)
  if (field === 'start_va' && !text.trim())
    return {
      label: `${load.name}: start by kind`,
      ops: [{ doc: 'home', op: 'replace', path, value: null }],
      problem: '',
    }
  const parsed = parseNumber(text)
  if (!parsed.ok) return { label: '', ops: [], problem: `${load.name}, ${WHAT[field]}: ${parsed.why}` }
  const value = parsed.value
  if (value < 0) return { label: '', ops: [], problem: `${load.name}, ${WHAT[field]}: it cannot be below 0.` }
  const before = load[field]
  const unit = UNIT[field] ? ` ${UNIT[field]}` : ''
  const label = `${load.name}, ${WHAT[field]}: ${before === null ? 'by kind' : number(Number(before), 1)} → ${number(value, 1)}${unit}`
  return { label, ops: [{ doc: 'home', op: 'replace', path, value }], problem: '' }
}

/** So many hours a day, whatever told the use before; a load that cycles is asked in the text field instead. */
function hoursEdit(load: Load, text: string): CellEdit {
  const none = (problem: string) => ({ label: '', ops: [], problem })
  const parsed = parseNumber(text)
  if (!parsed.ok) return none(`${load.name}, hours per day: ${parsed.why}`)
  if (parsed.value <= 0 || parsed.value > 24) return none(`${load.name}, hours per day: more than 0 and at most 24.`)
  if (load.use.kind === 'cycling' || load.use.kind === 'weather')
    return none(
      `${load.name} goes on and off by itself. Type it in the reading field: “${number(load.run_w)} W running ${number(parsed.value, 1)} h per day”, or “plugged in”.`,
    )
  const windows = load.use.kind === 'windows' || load.use.kind === 'daily' ? load.use.windows : []
  const value: Load['use'] = { ...load.use, kind: 'daily', hours: parsed.value, windows }
  return {
    label: `${load.name}: ${number(parsed.value, 1)} h per day`,
    ops: [{ doc: 'home', op: 'replace', path: `/loads/${escape(load.id)}/use`, value }],
    problem: '',
  }
}

/** Removing a load takes it out of every plan too, as one edit. */
export function removeLoad(state: HomeState, id: string): Op[] {
  const ops: Op[] = [{ doc: 'home', op: 'remove', path: `/loads/${escape(id)}` }]
  for (const plan of state.plans) {
    for (const feed of Object.values(plan.feeds))
      if (feed.load === id) ops.push({ doc: plan.id, op: 'remove', path: `/feeds/${escape(feed.id)}` })
    if (id in plan.load_choices) ops.push({ doc: plan.id, op: 'remove', path: `/load_choices/${escape(id)}` })
    if (id in plan.settings) ops.push({ doc: plan.id, op: 'remove', path: `/settings/${escape(id)}` })
    const groups = plan.not_together.map((g) => g.filter((x) => x !== id)).filter((g) => g.length > 1)
    if (JSON.stringify(groups) !== JSON.stringify(plan.not_together))
      ops.push({ doc: plan.id, op: 'replace', path: '/not_together', value: groups })
    const listed = plan.own_numbers?.night.loads
    if (listed?.includes(id)) {
      const value = listed.filter((x) => x !== id)
      ops.push({ doc: plan.id, op: 'replace', path: '/own_numbers/night/loads', value })
    }
  }
  return ops
}

/** Removing a circuit leaves its loads on no circuit, and takes it out of every plan. */
export function removeCircuit(state: HomeState, id: string): Op[] {
  const ops: Op[] = []
  for (const load of Object.values(state.home.loads))
    if (load.circuit === id)
      ops.push({ doc: 'home', op: 'replace', path: `/loads/${escape(load.id)}/circuit`, value: null })
  for (const circuit of Object.values(state.home.circuits))
    if (circuit.neutral_partner === id)
      ops.push({ doc: 'home', op: 'replace', path: `/circuits/${escape(circuit.id)}/neutral_partner`, value: null })
  for (const plan of state.plans) {
    for (const feed of Object.values(plan.feeds))
      if (feed.circuit === id) ops.push({ doc: plan.id, op: 'remove', path: `/feeds/${escape(feed.id)}` })
    for (const s of Object.values(plan.sources))
      if (s.charge_circuit === id)
        ops.push({ doc: plan.id, op: 'replace', path: `/sources/${escape(s.id)}/charge_circuit`, value: null })
    if (id in plan.opened) ops.push({ doc: plan.id, op: 'remove', path: `/opened/${escape(id)}` })
    if (id in plan.reasons) ops.push({ doc: plan.id, op: 'remove', path: `/reasons/${escape(id)}` })
    if (plan.everyday && id in plan.everyday.circuits)
      ops.push({ doc: plan.id, op: 'remove', path: `/everyday/circuits/${escape(id)}` })
  }
  if (state.home.household.walk?.entries[id])
    ops.push({ doc: 'home', op: 'remove', path: `/household/walk/entries/${escape(id)}` })
  ops.push({ doc: 'home', op: 'remove', path: `/circuits/${escape(id)}` })
  return ops
}

/** Removing a panel leaves its circuits, and panels behind it, at the one that fed it, out of their slots. */
export function removePanel(state: HomeState, id: string): Op[] {
  const home = state.home
  const behind = home.panels[id]?.behind ?? null
  const ops: Op[] = []
  const set = (path: HomePath, value: unknown) => ops.push({ doc: 'home', op: 'replace', path, value })
  for (const circuit of Object.values(home.circuits))
    if (circuit.panel === id) {
      set(`/circuits/${escape(circuit.id)}/panel`, behind)
      set(`/circuits/${escape(circuit.id)}/slots`, [])
    }
  for (const panel of Object.values(home.panels))
    if (panel.behind === id) {
      set(`/panels/${escape(panel.id)}/behind`, behind)
      set(`/panels/${escape(panel.id)}/feeder_slots`, [])
    }
  for (const plan of state.plans)
    for (const device of Object.values(plan.devices))
      if (device.panel === id)
        ops.push({ doc: plan.id, op: 'replace', path: `/devices/${escape(device.id)}/panel`, value: behind })
  ops.push({ doc: 'home', op: 'remove', path: `/panels/${escape(id)}` })
  return ops
}

/** Something new, with the defaults that the core has for it. */
export function newLoad(id: string, circuit: string | null, room: string): Load {
  return { ...structuredClone(blanks.load), id, circuit, room }
}

export function newUse(): Load['use'] {
  return structuredClone(blanks.use)
}

export function newCircuit(id: string, slot: number, panel: string | null = null): Circuit {
  return { ...structuredClone(blanks.circuit), id, slots: [slot], panel }
}

export function newPanel(id: string, name: string): SubPanel {
  return { ...structuredClone(blanks.panel), id, name }
}

/** The leg of a circuit in its panel, as a person reads it. */
export function legText(leg: string | undefined): string {
  return !leg ? '' : leg.length > 1 ? 'both legs' : `leg ${leg}`
}
