import type { Drawing } from '@dew-trail/core/pictures/drawing'
import { z } from 'zod'

const number = z.number().min(-100_000).max(100_000)
const colour = z.string().regex(/^#[0-9a-f]{6}$/i, 'is no colour such as #0d5c63')
const shared = { opacity: z.number().min(0).max(1), at: z.tuple([number, number, number, number, number, number]) }
const drawing = z.object({
  width: z.number().min(1).max(10_000),
  height: z.number().min(1).max(10_000),
  shapes: z
    .array(
      z.union([
        z.object({
          path: z
            .string()
            .max(40_000)
            .regex(/^[MLHVCSQTAZ\d\s.,e+-]*$/i, 'is no path'),
          fill: colour.nullable(),
          stroke: colour.nullable(),
          width: z.number().min(0).max(100),
          dash: z.array(z.number().min(0).max(1_000)).max(10),
          ...shared,
        }),
        z.object({
          text: z.string().max(300),
          x: number,
          y: number,
          size: z.number().min(0.01).max(200),
          anchor: z.enum(['start', 'middle', 'end']),
          bold: z.boolean(),
          fill: colour,
          ...shared,
        }),
      ]),
    )
    .max(6_000, 'is too much for a report: a picture may have 6,000 parts'),
}) satisfies z.ZodType<Drawing>

/** Most rows of a table that is kept as it was shown. */
export const mostKeptRows = 300
/** A picture or a table as a screen showed it on a day, with its sentence. It does not fill itself anew. */
export const keptPart = z
  .object({
    on: z.iso.date(),
    sentence: z.string().max(1_000),
    drawing: drawing.optional(),
    table: z
      .object({
        head: z.array(z.string().max(200)).min(1).max(40),
        rows: z.array(z.array(z.string().max(500)).max(40)).max(mostKeptRows),
        /** How many rows there were in all. */
        of: z.int().min(0),
      })
      .optional(),
  })
  .refine(({ drawing, table }) => (drawing === undefined) !== (table === undefined), 'holds a picture or a table')
export type KeptPart = z.infer<typeof keptPart>
