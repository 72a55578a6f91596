import { createCipheriv, createDecipheriv, randomBytes } from 'node:crypto'
import { mkdir, readFile, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import type { Db } from './db/pool.ts'

/** The file beside the data with the key that seals secrets; no backup has it. */
export const secretKeyFile = 'secret-key'

/**
 * Secrets that must be read again: keys of sources and of web hooks. They stand in the database sealed by AES-256-GCM, under a key that
 * is not in it, so that who gets hold of a backup has none of them.
 */
export class Secrets {
  readonly #key: Buffer

  private constructor(key: Buffer) {
    this.#key = key
  }

  /** Takes the key from its file, which is made where there is none. */
  static async open(dataDir: string): Promise<Secrets> {
    await mkdir(dataDir, { recursive: true })
    const path = join(dataDir, secretKeyFile)
    // Of two starts at once only one makes it.
    await writeFile(path, randomBytes(32).toString('base64'), { mode: 0o600, flag: 'wx' }).catch(error => {
      if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error
    })
    const key = Buffer.from(await readFile(path, 'utf8'), 'base64')
    if (key.length !== 32)
      throw new Error(`${path} does not hold a key of 32 bytes. Put the right one there, or remove it.`)
    return new Secrets(key)
  }

  async save(db: Db, name: string, secret: string | null): Promise<void> {
    if (secret === null) {
      await db.query('delete from sealed_secret where name = $1', [name])
      return
    }
    const nonce = randomBytes(12)
    const cipher = createCipheriv('aes-256-gcm', this.#key, nonce)
    // Its name is sealed with it: a secret moved to another name opens nothing.
    cipher.setAAD(Buffer.from(name))
    const text = Buffer.concat([cipher.update(secret, 'utf8'), cipher.final()])
    await db.query(
      `insert into sealed_secret (name, sealed) values ($1, $2)
       on conflict (name) do update set sealed = excluded.sealed, set_at = now()`,
      [name, Buffer.concat([nonce, cipher.getAuthTag(), text])],
    )
  }

  /** A secret; null where there is none, and where it was sealed with another key: `sealedElsewhere` names those. */
  async read(db: Db, name: string): Promise<string | null> {
    const { rows } = await db.query<{ sealed: Buffer }>('select sealed from sealed_secret where name = $1', [name])
    return rows[0] ? this.#unseal(name, rows[0].sealed) : null
  }
  /** Names of secrets that this key does not open, as after a backup was restored on another machine. */
  async sealedElsewhere(db: Db): Promise<string[]> {
    const { rows } = await db.query<{ name: string; sealed: Buffer }>(
      'select name, sealed from sealed_secret order by name',
    )
    return rows.filter(row => this.#unseal(row.name, row.sealed) === null).map(row => row.name)
  }

  #unseal(name: string, sealed: Buffer): string | null {
    try {
      const decipher = createDecipheriv('aes-256-gcm', this.#key, sealed.subarray(0, 12))
      decipher.setAAD(Buffer.from(name))
      decipher.setAuthTag(sealed.subarray(12, 28))
      return Buffer.concat([decipher.update(sealed.subarray(28)), decipher.final()]).toString('utf8')
    } catch {
      return null
    }
  }
}
