import type { Db } from '../../platform/db/pool.ts'
import type { RowBlock } from './row-blocks.ts'

/**
 * The newest block of each table of rows, held in memory up to so many characters, the longest unused going first. A keyword that changes
 * gets a higher revision, so a block is whole as long as the site has none above its end and as many rows as it has.
 */
export class LastBlocks {
  readonly #blocks = new Map<string, RowBlock>()
  readonly #most: number
  #held = 0

  constructor(most: number) {
    this.#most = most
  }

  /** The block of a key, when nothing came after it; undefined otherwise. */
  async get(db: Db, siteId: number, key: string): Promise<RowBlock | undefined> {
    const block = this.#blocks.get(key)
    if (!block) return undefined
    const { rows } = await db.query<{ last: number | null; count: number }>(
      'select max(revision) last, count(*) count from keyword where site_id = $1 and revision > $2',
      [siteId, block.from],
    )
    const isWhole = rows[0]!.last === block.to && rows[0]!.count === block.keywords
    this.#drop(key)
    if (isWhole) this.set(key, block)
    return isWhole ? block : undefined
  }

  set(key: string, block: RowBlock): void {
    this.#drop(key)
    if (block.lines.length > this.#most) return
    this.#blocks.set(key, block)
    this.#held += block.lines.length
    for (const oldest of this.#blocks.keys()) {
      if (this.#held <= this.#most) break
      this.#drop(oldest)
    }
  }

  #drop(key: string): void {
    const block = this.#blocks.get(key)
    if (!block) return
    this.#blocks.delete(key)
    this.#held -= block.lines.length
  }
}
