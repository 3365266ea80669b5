import type { EnergyChannel } from '@/shared/api/types'

export type Role = EnergyChannel['role']

export const ROLES: Record<Role, string> = {
  house: 'used by the house',
  bought: 'bought from the grid',
  sent: 'sent to the grid',
  sun: 'sun from the panels',
  charged: 'into the battery (AC)',
  delivered: 'out of the battery (AC)',
}
/** Words of column names, the more telling first: “grid export” is sent, not bought. */
const WORDS: [Role, RegExp][] = [
  ['sent', /export|feed.?in|to grid|sent|einspeis|sold/],
  ['charged', /charg(?!e level)|to batt/],
  ['delivered', /discharg|from batt|batt.*out/],
  ['sun', /solar|sun|\bpv\b|panel|yield|generat|produc/],
  ['bought', /import|grid|bought|purchas|utility|mains/],
  ['house', /home|house|consum|load|used|usage|total/],
]

/** What a column seems to meter, by its name; nothing where the name says nothing. Discharging is told from charging. */
export function guessRole(column: string): Role | '' {
  const name = column.toLowerCase()
  if (/discharg/.test(name)) return 'delivered'
  if (/%|soc|charge level|volt|temp/.test(name)) return ''
  return WORDS.find(([, words]) => words.test(name))?.[0] ?? ''
}

/** A guess for each column; of two that seem to meter the same, the first has it. */
export function guessRoles(columns: string[]): Record<string, Role | ''> {
  const taken = new Set<string>()
  const found: Record<string, Role | ''> = {}
  for (const column of columns) {
    const role = guessRole(column)
    found[column] = role && !taken.has(role) ? role : ''
    if (role) taken.add(role)
  }
  return found
}

/** The first and the last day of a month, such as 2026-11. */
export function monthDays(month: string): [string, string] {
  const [year, m] = month.split('-').map(Number)
  const last = new Date(Date.UTC(year!, m!, 0)).getUTCDate()
  return [`${month}-01`, `${month}-${String(last).padStart(2, '0')}`]
}
