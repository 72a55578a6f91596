import { createReadStream, createWriteStream } from 'node:fs'
import { mkdir, readdir, rm, stat } from 'node:fs/promises'
import { randomUUID } from 'node:crypto'
import { basename, join } from 'node:path'
import { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { AppError } from '@dew-trail/contract/errors'
import type pg from 'pg'
import type { Config } from '../../platform/config.ts'
import type { Context } from '../../context.ts'
import { manyFilesInUse } from './queries.ts'

/** A file that was uploaded and not imported is taken away after this. */
const keptMs = 24 * 3_600_000
/** A file that nobody knows of and that was not written to for so long is left over from an upload that broke off. */
const receivingMs = 10 * 60_000

const uuid = /^[0-9a-f-]{36}$/
const folderOf = (config: Config): string => join(config.DATA_DIR, 'imports')

/**
 * Streams an upload into a file of its own and does what is to be done with it; when that fails the file goes away again. Refused when
 * all uploads together would take more than their quota, or the disk has no room for it.
 */
export async function keepUpload<T>(
  context: Context,
  request: Readable & { headers: { 'content-length'?: string | undefined } },
  use: (filePath: string, bytes: number) => Promise<T>,
): Promise<T> {
  const { config } = context
  const folder = folderOf(config)
  await mkdir(folder, { recursive: true })
  const announced = Number(request.headers['content-length'] ?? 0)
  await context.disk.needRoom(Math.min(announced, config.IMPORT_MAX_BYTES))
  const others = await removeLeftUploads(config, context.pool)
  const room = config.UPLOADS_MAX_BYTES - others
  if (room <= Math.min(announced, config.IMPORT_MAX_BYTES))
    throw new AppError(
      'tooLarge',
      `Uploaded files that are not imported yet take ${megabytes(others)} of ${megabytes(config.UPLOADS_MAX_BYTES)} MB. Import or wait for those first, or raise UPLOADS_MAX_BYTES.`,
    )
  const filePath = join(folder, randomUUID())
  try {
    const bytes = await receiveFile(request, filePath, config.IMPORT_MAX_BYTES)
    if (!bytes) throw new AppError('badInput', 'The file is empty')
    if (context.bus.isShared) await savePieces(context.pool, filePath)
    const used = await use(filePath, bytes)
    // A workbook was written out as a table, which is what the job reads.
    if (context.bus.isShared && (await stat(`${filePath}.csv`).catch(() => null)))
      await savePieces(context.pool, `${filePath}.csv`)
    return used
  } catch (error) {
    await removeUpload(context.pool, filePath)
    throw error
  }
}

/** Takes an uploaded file away, with whatever was made beside it. */
export async function removeUpload(pool: pg.Pool, filePath: string): Promise<void> {
  // Pieces that stay because the database is away go with what is left over.
  await pool.query('delete from upload_piece where name = $1', [nameOf(filePath)]).catch(() => undefined)
  for (const path of [filePath, `${filePath}.csv`]) await rm(path, { force: true })
}

/** Where an uploaded file stands on this machine: where it was received, else a copy made of its pieces; null when it is gone. */
export async function fetchUpload(
  { config, pool }: Pick<Context, 'config' | 'pool'>,
  filePath: string,
): Promise<string | null> {
  if (await stat(filePath).catch(() => null)) return filePath
  const own = join(folderOf(config), basename(filePath))
  if (await stat(own).catch(() => null)) return own
  if (!(await hasPieces(pool, filePath))) return null
  await mkdir(folderOf(config), { recursive: true })
  await pipeline(Readable.from(pieces(pool, filePath)), createWriteStream(own))
  return own
}
const pieceBytes = 1_000_000
/** The name under which an upload and what was made of it are kept. */
const nameOf = (filePath: string): string => basename(filePath, '.csv')
async function savePieces(pool: pg.Pool, filePath: string): Promise<void> {
  await pool.query('delete from upload_piece where name = $1', [nameOf(filePath)])
  let at = 0
  for await (const bytes of createReadStream(filePath, { highWaterMark: pieceBytes }))
    await pool.query('insert into upload_piece (name, at, bytes) values ($1, $2, $3)', [nameOf(filePath), at++, bytes])
}
async function hasPieces(pool: pg.Pool, filePath: string): Promise<boolean> {
  const { rowCount } = await pool.query('select from upload_piece where name = $1 limit 1', [nameOf(filePath)])
  return rowCount === 1
}
async function* pieces(pool: pg.Pool, filePath: string): AsyncGenerator<Buffer> {
  for (let at = 0; ; at++) {
    const { rows } = await pool.query<{ bytes: Buffer }>(
      `select bytes from upload_piece
      where name = $1 and at = $2`,
      [nameOf(filePath), at],
    )
    if (!rows[0]) return
    yield rows[0].bytes
  }
}

/** Takes away files that nothing waits for any more, half received ones too. Gives the bytes of those that stay. */
export async function removeLeftUploads(config: Config, pool: pg.Pool): Promise<number> {
  const inUse = new Set(await manyFilesInUse(pool, new Date(Date.now() - keptMs)))
  const names = [...inUse].map(nameOf).filter(name => uuid.test(name))
  await pool.query(
    `delete from upload_piece where name <> all($1::uuid[]) and received_at < now() - interval '1 hour'`,
    [names],
  )
  let bytes = 0
  for (const name of await readdir(folderOf(config)).catch(() => [])) {
    const path = join(folderOf(config), name)
    const info = await stat(path).catch(() => null)
    if (!info) continue
    if (!inUse.has(path) && Date.now() - info.mtimeMs > receivingMs) await rm(path, { force: true })
    else bytes += info.size
  }
  return bytes
}

/**
 * Streams an upload into a file and gives its size. What is over the limit is read on but thrown away, up to as much again, so that the
 * browser hears why instead of losing the connection.
 */
async function receiveFile(request: Readable, filePath: string, mostBytes: number): Promise<number> {
  let bytes = 0
  async function* withinLimit(): AsyncGenerator<Buffer> {
    for await (const chunk of request) {
      bytes += (chunk as Buffer).length
      if (bytes <= mostBytes) yield chunk as Buffer
      else if (bytes > 2 * mostBytes + 1_000_000) break
    }
  }
  await pipeline(Readable.from(withinLimit()), createWriteStream(filePath))
  if (bytes > mostBytes)
    throw new AppError(
      'tooLarge',
      `The file is larger than ${megabytes(mostBytes)} MB. Nothing was imported; split it, or raise IMPORT_MAX_BYTES.`,
    )
  return bytes
}

const megabytes = (bytes: number): string => Math.round(bytes / 1e6).toLocaleString('en')
