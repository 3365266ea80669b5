import type { components } from './generated'

type S = components['schemas']

/** Documents come from the server with every default written out. */
export type Circuit = Required<S['Circuit']>
export type Setting = Required<S['Setting']>
export type Load = Required<Omit<S['Load'], 'use' | 'settings'>> & {
  use: Required<S['Use']>
  settings: Record<string, Setting>
}
export type Window = Required<S['Window']>
export type Feed = Required<S['Feed']>
export type Source = Required<S['Source']>
export type Device = Required<S['Device']>
export type Bank = Required<S['Bank']>
export type Away = Required<S['Away']>
export type SubPanel = Required<S['SubPanel']>
export type Battery = Required<S['Battery']>
export type RunCard = Required<S['Card']>
export type ReadyView = S['ReadyView']
export type LiveView = S['LiveView']
export type EverydayView = S['EverydayView']
export type CurveView = S['CurveView']
export type WorthView = S['WorthView']
export type FrontView = S['FrontView']
export type WorkView = S['WorkView']
export type KeepingView = S['KeepingView']
export type Tariff = Required<S['Tariff']>
export type EverydayPolicy = Required<S['Everyday']>
export type ProcedureView = S['ProcedureView']
export type BookView = S['BookView']
export type PlaceLive = S['PlaceLive']
export type ReachView = S['ReachView']
export type ReachStep = S['ReachStep']
export type WatchView = S['WatchView']
export type StoreLive = S['StoreLive']
export type LiveOutage = S['Live']
export type StormAlert = S['Alert']
export type DrillView = S['DrillView']
export type DrillPart = S['DrillPart']
export type BoardView = S['BoardView']
export type SolarArray = Required<S['Array']>
export type Shade = Required<S['Shade']>
export type SunView = S['SunView']
export type CatalogueView = S['CatalogueView']
export type FieldNote = S['FieldNote']
export type ModuleKind = Required<S['Module']>
export type Panel = Required<S['Panel']>
export type Engine = Required<S['Engine']>
export type Generator = Required<S['Generator']>
export type SizeView = S['SizeView']
export type SchoolAnswer = S['SchoolAnswer']
export type FrontierJob = S['FrontierJob']
export type FrontierView = S['FrontierView']
export type BuyView = S['BuyView']
export type FuelView = S['FuelView']
export type Plan = Required<Omit<S['Plan'], 'feeds' | 'sources' | 'arrays' | 'engine' | 'devices' | 'banks'>> & {
  devices: Record<string, Device>
  banks: Record<string, Bank>
  engine: Engine | null
  arrays: Record<string, SolarArray>
  feeds: Record<string, Feed>
  sources: Record<string, Source>
}
export type Outage = Required<S['Outage']>
export type Home = Required<
  Omit<S['Home'], 'alert' | 'live' | 'lived' | 'panels' | 'circuits' | 'loads' | 'service' | 'site' | 'household'>
> & {
  household: Required<Omit<S['Household'], 'history' | 'people' | 'drills' | 'existing' | 'panel' | 'walk'>> & {
    history: Required<S['History']>
    people: Record<string, Required<S['Person']>>
    drills: Record<string, Required<S['Practised']>>
    existing: Record<string, Required<S['Existing']>>
    panel: Required<S['PanelSpot']>
    walk: Walk | null
  }
  alert: StormAlert | null
  live: LiveOutage | null
  lived: Record<string, LiveOutage>
  panels: Record<string, SubPanel>
  circuits: Record<string, Circuit>
  loads: Record<string, Load>
  service: Required<S['Service']>
  site: Required<S['Site']>
}
export type Walk = Required<Omit<S['Walk'], 'entries'>> & { entries: Record<string, Required<S['WalkEntry']>> }
export type Verdict = Required<S['VerdictView']>
export type Limit = S['LimitView']
export type Move = S['MoveView']
export type Run = S['RunView']
export type Strip = S['Strip']
export type StationView = S['StationView']
export type Station = Required<S['Station']>
export type Typical = Required<S['Typical']>
export type TransferEquipment = Required<S['TransferEquipment']>
export type ReadingView = S['ReadingView']
export type Echo = S['Echo']
export type LogView = S['LogView']
export type ChannelView = S['ChannelView']
export type PartView = S['PartView']
export type SeriesView = S['SeriesView']
export type KeptChannel = S['KeptChannel']
export type HomeLine = S['HomeLine']
export type ErrorBody = S['ErrorBody']
export type Op = {
  doc: string
  op: 'add' | 'replace' | 'remove'
  path: string
  value?: unknown
  kind?: 'plan' | 'outage'
}
export type Stance = Feed['stance']
export type Evidence = Load['evidence']

export interface HomeState {
  id: string
  rev: number
  home: Home
  plans: Plan[]
  outages: Outage[]
  /** The labels of what undo and redo would do, and the ids of those edits. */
  undo: string | null
  redo: string | null
  undo_edit: string | null
  redo_edit: string | null
  /** The newest edit only tries something. */
  trial: boolean
}
export type HomeNews = S['HomeNews']
export type SheetView = S['SheetView']
export type ReadView = S['ReadView']
export type InstrumentsView = S['InstrumentsView']
export type MeterView = S['MeterView']
export type WholeView = S['WholeView']
export type GoalsView = S['GoalsView']
export type Household = Home['household']
export type Cord = Required<S['Cord']>
export type Wire = Required<S['Wire']>
export type DiagramLine = Required<S['Line']>
export type PossibleFeed = Required<S['PossibleFeed']>
export type Drawing = Omit<S['Drawing'], 'boxes' | 'lines'> & {
  boxes: (S['Placed'] & { box: Required<S['Box']> })[]
  lines: (Required<S['Drawn']> & { line: DiagramLine })[]
}
export type JoiningView = { diagram: Required<S['Diagram']> & { feeds: PossibleFeed[] }; layout: Drawing }
export type ProposalView = S['ProposalView']
export type PinStance = 'keep_on' | 'turns' | 'off'
