/** What each page is called, in menus, tabs, headings and the window's title; its address keeps its own name. */
export const PAGE_NAMES = {
  house: 'House',
  meters: 'Measure',
  whole: 'Totals and bills',
  goals: 'Needs and people',
  walk: 'Map the breakers',
  chosen: 'What to power',
  source: 'Station',
  sun: 'Solar',
  fuel: 'Generator',
  equipment: 'Equipment list',
  joining: 'Connections',
  hours: 'How long',
  compare: 'Plans by outage',
  size: 'What size to buy',
  everyday: 'Weekly schedule',
  tariffs: 'Electricity prices',
  worth: 'Worth it?',
  saved: 'What it saved',
  keeping: 'Upkeep',
  storm: 'Switching steps',
  ready: 'Get ready',
  live: 'Outage now',
  tests: 'Tests',
  book: 'Logbook',
  drill: 'Practice',
  papers: 'Printouts',
  work: 'Work and permits',
  binder: 'Binder',
} as const

/** What each place is called; its pages are listed under it. */
export const PLACE_NAMES = {
  house: 'House',
  chosen: PAGE_NAMES.chosen,
  source: 'Power source',
  hours: PAGE_NAMES.hours,
  compare: 'Compare',
  everyday: 'Everyday use',
  storm: 'Outages',
  papers: 'Papers',
} as const

/** The tabs of a place. */
export const tabs = (...names: (keyof typeof PAGE_NAMES)[]) => names.map((name) => ({ name, text: PAGE_NAMES[name] }))
