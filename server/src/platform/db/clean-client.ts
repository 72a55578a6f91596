import { storableJson, storableText } from '@dew-trail/core/text/storable-text'
import pg from 'pg'

/**
 * A connection that cleans texts on their way to the database: pages, feeds, files and snippets hold characters that PostgreSQL refuses,
 * and one of them would end a whole import or crawl. Parameters and their parts are cleaned; COPY is, where its rows are written.
 */
export class CleanClient extends pg.Client {
  // biome-ignore lint/suspicious/noExplicitAny: the method it stands for has a dozen shapes
  override query(query: any, values?: any, callback?: any): any {
    if (Array.isArray(values)) return super.query(query, values.map(storable), callback)
    if (Array.isArray(query?.values)) query.values = query.values.map(storable)
    return super.query(query, values, callback)
  }
}

/** A parameter as the database can hold it. */
export function storable(value: unknown): unknown {
  // Lists go to `jsonb` as text, since node-postgres makes arrays of them.
  if (typeof value === 'string') return /^[[{]/.test(value) ? storableJson(storableText(value)) : storableText(value)
  if (value === null || typeof value !== 'object' || Buffer.isBuffer(value) || value instanceof Date) return value
  if (Array.isArray(value)) return value.some(needsCare) ? value.map(storable) : value
  if (ArrayBuffer.isView(value)) return value
  return storableJson(JSON.stringify(value))
}

const needsCare = (value: unknown): boolean =>
  typeof value === 'string' || (typeof value === 'object' && value !== null)
