import generated from './blanks.json'
import type { components } from './generated'

type S = components['schemas']

/** Something new of each kind, with every default written out; copy one before it is changed. */
export const blanks = generated as unknown as {
  load: S['Load']
  use: S['Use']
  circuit: S['Circuit']
  feed: S['Feed']
  source: S['Source']
  device: S['Device']
  bank: S['Bank']
  away: S['AwayTimes']
  panel: S['SubPanel']
  task: S['Task']
  built: S['BuildChange']
  other_use: S['OtherUse']
  contact: S['Contact']
  filed: S['BinderEntry']
}
