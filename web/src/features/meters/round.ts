import type { Home } from '@/shared/api/types'

const DEPENDS = ['life', 'food', 'house']

/** The order of a flip-in round: by slot, but circuits that someone's health, food or the house depends on last. */
export function roundOrder(home: Home): { circuit: string; timed: boolean }[] {
  const weight = (id: string) => {
    const purposes = Object.values(home.loads)
      .filter((l) => l.circuit === id)
      .map((l) => l.purpose)
    return purposes.includes('life') ? 2 : purposes.some((p) => DEPENDS.includes(p)) ? 1 : 0
  }
  const panels = [null, ...Object.keys(home.panels)] // one panel after the other, the main one first
  return Object.values(home.circuits)
    .map((c) => ({ circuit: c.id, weight: weight(c.id), panel: panels.indexOf(c.panel), slot: c.slots[0] ?? 999 }))
    .sort((a, b) => a.weight - b.weight || a.panel - b.panel || a.slot - b.slot)
    .map(({ circuit, weight }) => ({ circuit, timed: weight > 0 }))
}
