/**
 * The home's own time. `toISOString` gives the day in London, which on an American evening is tomorrow;
 * a lint rule keeps it from being cut to a day anywhere else.
 */
const parts = (at: Date, timeZone?: string) => at.toLocaleString('sv', { timeZone }) // Swedish writes moments as ISO does.

/** A moment at a home, as `2026-11-30T18:05:00`; timeZone: the home's, or none for this machine's. */
export const homeNow = (timeZone?: string, at = new Date()): string => parts(at, timeZone).replace(' ', 'T')

/** The day at a home, as `2026-11-30`. */
export const homeToday = (timeZone?: string, at = new Date()): string => parts(at, timeZone).slice(0, 10)
