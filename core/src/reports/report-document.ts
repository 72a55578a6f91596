import type { Drawing } from '../pictures/drawing.ts'
import type { LinePicture } from '../pictures/line-picture.ts'
import type { StackPicture } from '../pictures/stack-picture.ts'

/** A piece of a line of text; `link`: a web address. */
export type Run = { text: string; strong?: boolean; emphasis?: boolean; link?: string }
export type Figure = {
  label: string
  /** As it is read: "41.2", "unknown". */
  value: string
  /** Since the day compared with: "up 3.8"; null where that is not known. */
  change: string | null
  /** Whether the change is for the better; null where it is neither. */
  good: boolean | null
}
/** A part of a report. Text is text, never markup; a table's first row is its head, and its numbers stand right. */
export type ReportBlock =
  | { kind: 'heading'; level: 2 | 3; text: string }
  | { kind: 'text'; runs: Run[]; quiet?: boolean }
  | { kind: 'list'; ordered: boolean; items: Run[][] }
  | { kind: 'figures'; figures: Figure[] }
  | { kind: 'lines'; picture: LinePicture }
  | { kind: 'stack'; picture: StackPicture }
  | { kind: 'drawing'; title: string; picture: Drawing }
  | {
      kind: 'table'
      head: string[]
      rows: string[][] /** How many rows there are in all, where not all are here. */
      of?: number
    }
  | { kind: 'break' }

/** A report as it was issued: all that is needed to show it again, whatever became of the data since. */
export type ReportDocument = {
  title: string
  /** Whom it is about, by name and domain. */
  site: string
  domain: string
  /** In which market, in words. */
  market: string
  /** The day it speaks of and the day it compares with. */
  asOf: string
  since: string
  madeOn: string
  /** "#0d5c63" */
  colour: string
  logo: { type: 'image/png' | 'image/jpeg'; base64: string } | null
  /** Language of the text, as in `lang`. */
  language: string
  blocks: ReportBlock[]
}

export const plainText = (runs: readonly Run[]): string => runs.map(run => run.text).join('')
export const textBlock = (text: string, quiet = false): ReportBlock => ({
  kind: 'text',
  runs: [{ text }],
  ...(quiet ? { quiet } : {}),
})

/** Which columns of a table hold numbers: those in which every cell that says something is one. */
export function numberColumns(head: readonly string[], rows: ReadonlyArray<readonly string[]>): boolean[] {
  return head.map((_, column) => {
    const cells = rows.map(row => row[column] ?? '').filter(cell => cell !== '' && cell !== '–' && cell !== 'unknown')
    return cells.length > 0 && cells.every(cell => /^[+−-]?[\d,.]+(%| →|$)/.test(cell))
  })
}
