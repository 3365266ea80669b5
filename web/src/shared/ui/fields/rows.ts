/** A row of a document, kept by its id. */
export type Row = { id: string } & Record<string, unknown>

/** A column of a table to be filled in. */
export interface Column {
  key: string
  title: string
  kind: 'text' | 'number' | 'date' | 'choice' | 'said'
  choices?: Record<string, string>
  /** What is said where it is not filled in by hand. */
  words?: (row: Row) => string
  hint?: string
  most?: number
  /** What an empty number stands for; null where it may be unknown. */
  empty?: number
}
