import type { Context } from '../context.ts'
import { inTransaction } from '../db/pool.ts'
import { AddressBook, type NewIds } from '../links/address-book.ts'
import { addLinks, lockAddresses, lockLinks, mergeLinks } from '../links/queries.ts'
import { type FoundLink, LinkLines, restOf } from '../links/save-links.ts'
import { SeenKeys } from '../links/seen-keys.ts'

/** Links saved at a time: the more, the better the order in which the database writes them. */
const linksAtATime = 400_000
const alreadyThere = '23505'

const nothingNew: NewIds = {
  site: Number.POSITIVE_INFINITY,
  page: Number.POSITIVE_INFINITY,
  anchor: Number.POSITIVE_INFINITY,
}

/**
 * Takes links of a file and merges them into a graph batch by batch: while one is read, the addresses of the one before are learnt and the
 * links of the one before that are merged. A link with an end that this file brought, and that did not come before in it, is new to the
 * graph and not looked for.
 */
export class LinkBatches {
  readonly #pool: Context['pool']
  readonly #graphId: number
  readonly #atATime: number
  readonly book: AddressBook
  /** Goes up when the book begins anew, which voids all places in it. */
  epoch = 0
  #lines: LinkLines
  /** Links of this file, and the first ids that it brought, since the book began. */
  readonly #seen = new SeenKeys()
  #brought = nothingNew
  /** Numbers of the batch's links that came before. */
  #repeated = new Set<number>()
  #learning: Promise<void> = Promise.resolve()
  #merging: Promise<void> = Promise.resolve()
  /** Links that are in the graph. */
  saved = 0

  constructor({ pool }: Pick<Context, 'pool'>, graphId: number, atATime = linksAtATime) {
    this.#pool = pool
    this.#graphId = graphId
    this.#atATime = atATime
    this.book = new AddressBook(graphId)
    this.#lines = this.#emptyLines()
  }

  /** Takes a link; gives something to wait for when it completes a batch. */
  add(link: FoundLink): Promise<void> | undefined {
    const anchor = this.book.anchorAt(link.anchor)
    return this.addPlaced(
      this.book.pageAt(link.target),
      this.book.pageAt(link.source),
      anchor,
      link.rel,
      restOf(link, 'file'),
    )
  }

  /** The same of a link whose ends and anchor have places in the book; `rest` as `restOf` gives it. */
  addPlaced(target: number, source: number, anchor: number, rel: number, rest: Buffer): Promise<void> | undefined {
    const number = this.#lines.count
    this.#lines.addPlaced(target, source, anchor, rest)
    if (!this.#seen.isNew(target, source, anchor, rel)) this.#repeated.add(number)
    return number + 1 >= this.#atATime ? this.#save() : undefined
  }

  /** Waits until everything is in the graph. */
  async finish(): Promise<void> {
    if (this.#lines.count) await this.#save()
    await this.#merging
  }

  #emptyLines(): LinkLines {
    return new LinkLines(this.#graphId, this.book)
  }

  /** Sends the batch on its way, when the one before is learnt. */
  async #save(): Promise<void> {
    const lines = this.#lines
    const repeated = this.#repeated
    this.#lines = this.#emptyLines()
    this.#repeated = new Set()
    await this.#learning
    this.#learning = this.#learn()
    this.#merging = Promise.all([this.#learning, this.#merging]).then(() => this.#merge(lines, repeated))
    // An error is thrown where it is waited for, not before.
    this.#learning.catch(() => undefined)
    this.#merging.catch(() => undefined)
    if (!this.book.isFull) return
    await this.#merging
    this.book.forget()
    this.#seen.clear()
    this.#brought = nothingNew
    this.epoch++
  }

  #learn(): Promise<void> {
    return inTransaction(this.#pool, async db => {
      await lockAddresses(db, this.#graphId)
      const made = await this.book.learn(db)
      const { site, page, anchor } = this.#brought
      this.#brought = {
        site: Math.min(site, made.site),
        page: Math.min(page, made.page),
        anchor: Math.min(anchor, made.anchor),
      }
    })
  }

  async #merge(lines: LinkLines, repeated: ReadonlySet<number>): Promise<void> {
    const fresh: number[] = []
    const others: number[] = []
    for (let i = 0; i < lines.count; i++) (!repeated.has(i) && lines.isNew(i, this.#brought) ? fresh : others).push(i)
    try {
      await inTransaction(this.#pool, async db => {
        await lockLinks(db, this.#graphId)
        const { numbers, targetSiteIds } = lines.inOrder(fresh)
        if (fresh.length) await addLinks(db, this.#graphId, lines, numbers, targetSiteIds)
        if (others.length) await mergeLinks(db, this.#graphId, lines, others)
      })
    } catch (error) {
      // Between learning and merging a crawl may have found the same link on a page that was new then: now all are looked for.
      if ((error as { code?: string }).code !== alreadyThere) throw error
      await inTransaction(this.#pool, async db => {
        await lockLinks(db, this.#graphId)
        await mergeLinks(db, this.#graphId, lines, lines.all())
      })
    }
    this.saved += lines.count
  }
}
