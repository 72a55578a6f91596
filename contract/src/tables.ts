import { readCondition, readSort } from '@dew-trail/core/tables/condition-text'
import { z } from 'zod'
import { id, text } from './common.ts'

/** Formats in which the server writes a table. CSV and JSON Lines take any number of rows, a workbook up to 100,000. */
export const tableFormats = ['csv', 'jsonl', 'xlsx'] as const
export type TableFormat = (typeof tableFormats)[number]

const list = (value: unknown): unknown => (value === undefined ? [] : Array.isArray(value) ? value : [value])
/** Conditions in their text form, such as searches:from:100; a single one may stand without a list. */
export const conditionTexts = z
  .preprocess(
    list,
    z.array(
      text(2_000).transform((words, context) => {
        const condition = readCondition(words)
        if (condition) return condition
        context.addIssue(`"${words}" is no condition such as searches:from:100`)
        return z.NEVER
      }),
    ),
  )
  .default([])
/** An order in its text form, such as -visits; the empty text is the order of arrival. */
export const sortText = text(400)
  .default('')
  .transform(words => readSort(words))
/** A table of a site in a market as a file: its columns by key, conditions and order in their text forms, all of them optional. */
export const tableQuery = z.object({
  siteId: id,
  marketId: id,
  table: text(40),
  format: z.enum(tableFormats).default('csv'),
  columns: text(4_000)
    .transform(keys => keys.split(',').filter(Boolean))
    .optional(),
  where: conditionTexts,
  sort: sortText,
})
export type TableQuery = z.output<typeof tableQuery>

/** The address of a table as a file. */
export function tablePath(
  siteId: number,
  marketId: number,
  table: string,
  shown: { format: TableFormat; columns: readonly string[]; where: readonly string[]; sort: string },
): string {
  const query = new URLSearchParams({ marketId: String(marketId), format: shown.format })
  if (shown.columns.length) query.set('columns', shown.columns.join(','))
  for (const condition of shown.where) query.append('where', condition)
  if (shown.sort) query.set('sort', shown.sort)
  return `/api/sites/${siteId}/tables/${table}?${query}`
}
