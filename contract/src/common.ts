import { z } from 'zod'

/** The largest id: what PostgreSQL's locks and most of its integers hold. */
const largestId = 2_147_483_647

/** An id, also as digits in an address. Nothing else is taken for a number: neither "0x10" nor "1e3" nor true. */
export const id = z.preprocess(
  value => (typeof value === 'string' && /^\d{1,10}$/.test(value) ? Number(value) : value),
  z.number('is not an id').int('is not an id').min(1, 'is not an id').max(largestId, 'is not an id'),
)

/** Days that data can be of: the web is not older, and what lies further ahead is a slip of the pen. */
export const firstDay = '1990-01-01'
export const lastDay = '2100-12-31'

/** A day as YYYY-MM-DD. */
export const day = z.iso
  .date('is not a day like 2026-11-23')
  .refine(text => text >= firstDay && text <= lastDay, `must lie between ${firstDay} and ${lastDay}`)

/** Text that people type: not longer than `most` characters, and without white space around it. */
export const text = (most: number) =>
  z
    .string()
    .trim()
    .max(most, `may have ${most.toLocaleString('en')} characters`)

/**
 * Where in a value that came from outside a text is that no database can hold: the null character, or half of a pair that stands for
 * one character. Its path, or null when there is none.
 */
export function unstorableAt(value: unknown, path = ''): string | null {
  if (typeof value === 'string') return value.includes('\u0000') || !isWellFormed(value) ? path || 'text' : null
  if (Array.isArray(value)) {
    for (let i = 0; i < value.length; i++) {
      if (typeof value[i] === 'number') continue
      const at = unstorableAt(value[i], `${path}.${i}`)
      if (at) return at
    }
    return null
  }
  if (value && typeof value === 'object')
    for (const [key, each] of Object.entries(value)) {
      const at = unstorableAt(key, path || 'a name') ?? unstorableAt(each, path ? `${path}.${key}` : key)
      if (at) return at
    }
  return null
}

const isWellFormed = (text: string): boolean =>
  !/[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/.test(text)
