/** The guide's pages as text, each fetched when it is first opened. */
const files = import.meta.glob<string>('../../../docs/guide/*.md', { query: '?raw', import: 'default' })

export const guide: Record<string, () => Promise<string>> = Object.fromEntries(
  Object.entries(files).map(([path, load]) => [path.replace(/^.*\/(.*)\.md$/, '$1'), load]),
)

/** What each page of the guide is called in its list. */
export const PAGE_TITLES: Record<string, string> = {
  band: 'How sure the hours are',
  estimate: 'Command line',
  everyday: 'Everyday use',
  limits: 'Limits',
  march: 'Simulation',
  measuring: 'Measuring',
  papers: 'Papers',
  'plan-file': 'Plan file',
  'planning-defaults': 'Planning defaults',
  safe: 'Keeping data safe',
  sizing: 'What size to buy',
  sources: 'Power source',
  storm: 'Outages',
  sun: 'Solar',
  tour: 'Tour',
}

/** Which page of the guide tells about a place. */
const PAGE_FOR: Record<string, string> = {
  house: 'measuring',
  whole: 'measuring',
  meters: 'measuring',
  goals: 'measuring',
  walk: 'measuring',
  chosen: 'limits',
  source: 'sources',
  sun: 'sun',
  fuel: 'sources',
  joining: 'sources',
  equipment: 'sources',
  hours: 'band',
  size: 'sizing',
  compare: 'estimate',
  everyday: 'everyday',
  tariffs: 'everyday',
  worth: 'everyday',
  keeping: 'everyday',
  storm: 'storm',
  ready: 'storm',
  live: 'storm',
  drill: 'storm',
  tests: 'storm',
  book: 'storm',
  papers: 'papers',
  work: 'papers',
  binder: 'papers',
}
export const pageFor = (place: string) => PAGE_FOR[place] ?? 'tour'
