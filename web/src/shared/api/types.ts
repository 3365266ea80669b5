import type { components } from './generated'

type S = components['schemas']

/** What the server answers has every field; see `api/described.py`. */
export type Circuit = S['Circuit']
export type Setting = S['Setting']
export type Load = S['Load']
export type Window = S['Window']
export type Feed = S['Feed']
export type Source = S['Source']
export type Device = S['Device']
export type Bank = S['Bank']
export type Away = S['AwayTimes']
export type SubPanel = S['SubPanel']
export type Battery = S['Battery']
export type RunCard = S['Card']
export type ReadyView = S['ReadyView']
export type LiveView = S['LiveView']
export type EverydayView = S['EverydayView']
export type CurveView = S['CurveView']
export type WorthView = S['WorthView']
export type EnergyChannel = S['EnergyChannel']
export type FrontView = S['FrontView']
export type WorkView = S['WorkView']
export type KeepingView = S['KeepingView']
export type Tariff = S['Tariff']
export type EverydayPolicy = S['Everyday']
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
export type SolarArray = S['Array']
export type Shade = S['Shade']
export type SunView = S['SunView']
export type CatalogueView = S['CatalogueView']
export type FieldNote = S['FieldNote']
export type ModuleKind = S['Module']
export type Panel = S['Panel']
export type Engine = S['Engine']
export type Generator = S['Generator']
export type SizeView = S['SizeView']
export type CircuitSchedule = S['CircuitSchedule']
export type SetOut = S['SetOut']
export type SharedStorm = S['SharedStorm']
export type StormAnswer = S['StormAnswer']
export type ByHandView = S['ByHandView']
export type OwnNumbers = S['OwnNumbers']
export type SchoolAnswer = S['SchoolAnswer']
export type FrontierJob = S['FrontierJob']
export type FrontierView = S['FrontierView']
export type BuyView = S['BuyView']
export type FuelView = S['FuelView']
export type Plan = S['Plan']
export type Outage = S['Outage']
export type Home = S['Home']
export type Walk = S['Walk']
export type Verdict = S['VerdictView']
export type Limit = S['LimitView']
export type Move = S['MoveView']
export type Run = S['RunView']
export type Strip = S['Strip']
export type StationView = S['StationView']
export type Station = S['Station']
export type Typical = S['Typical']
export type TransferEquipment = S['TransferEquipment']
export type ReadingView = S['ReadingView']
export type Echo = S['Echo']
export type LogView = S['LogView']
export type ChannelView = S['ChannelView']
export type PartView = S['PartView']
export type SeriesView = S['SeriesView']
export type KeptChannel = S['KeptChannel']
export type HomeLine = S['HomeLine']
export type ErrorBody = S['ErrorBody']
/** A name inside a JSON pointer, as `escape` gives it. */
export type Key = string & { readonly escaped: unique symbol }
/** Every JSON pointer into a document, so that a field that is renamed, or misspelt, does not pass the type check. */
type PathInto<T> = T extends readonly unknown[]
  ? never
  : T extends object
    ? {
        [K in keyof T]: K extends string
          ? string extends K
            ? `/${Key}` | `/${Key}${PathInto<NonNullable<T[K]>>}`
            : `/${K}` | `/${K}${PathInto<NonNullable<T[K]>>}`
          : never
      }[keyof T]
    : never
export type HomePath = PathInto<Home>
export type PlanPath = PathInto<Plan>
export type OutagePath = PathInto<Outage>
/** Where a document keeps rows by their ids. */
export type TablePath =
  '/binder' | '/household/contacts' | '/stages' | '/permissions' | '/tasks' | '/built' | '/other_uses'
export type DocumentPath = HomePath | PlanPath | OutagePath | ''
export type Op = {
  doc: string
  op: 'add' | 'replace' | 'remove'
  path: DocumentPath
  value?: unknown
  kind?: 'plan' | 'outage'
}
export type Stance = Feed['stance']
export type Evidence = Load['evidence']

/** A home as this page has it; when each document changed last is the server's own business. */
export type HomeState = Omit<S['HomeState'], 'revs'>
export type HomeNews = S['HomeNews']
export type SheetView = S['SheetView']
export type PhotoView = S['PhotoView']
export type BrokerView = S['BrokerView']
export type BrokerBody = S['BrokerBody']
export type PickBody = S['PickBody']
export type SheetKind = S['SheetBody']['kind']
export type ReadView = S['ReadView']
export type InstrumentsView = S['InstrumentsView']
export type MeterView = S['MeterView']
export type WholeView = S['WholeView']
export type GoalsView = S['GoalsView']
export type Household = Home['household']
export type Cord = S['Cord']
export type Wire = S['Wire']
export type DiagramLine = S['Line']
export type PossibleFeed = S['PossibleFeed']
export type Drawing = S['Drawing']
export type JoiningView = S['JoiningView']
export type ProposalView = S['ProposalView']
export type PinStance = 'keep_on' | 'turns' | 'off'
export type FirstPreview = S['FirstPreview']
export type FirstAnswers = S['Answers']
export type Town = S['Town']
