import { seenByBits } from '@dew-trail/core/links/link-codes'
import type pg from 'pg'
import type { Context } from '../../../context.ts'
import { inTransaction } from '../../../platform/db/pool.ts'
import { AddressBook } from '../../../domain/graph/address-book.ts'
import {
  addLinks,
  lockAddresses,
  lockLinks,
  mergeLinks,
  noteUnsummed,
  saveSums,
} from '../../../domain/graph/queries.ts'
import { type FoundLink, LinkLines, type LinkRest, restOf } from '../../../domain/graph/link-lines.ts'
import { SeenKeys } from '../../../domain/graph/seen-keys.ts'
import { SiteSums } from '../../../domain/graph/site-sums.ts'

/** Links saved at a time: the more, the better the order in which the database writes them. */
const linksAtATime = 250_000
const alreadyThere = '23505'

const nothingNew = { page: Number.POSITIVE_INFINITY, anchor: Number.POSITIVE_INFINITY }

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
  /** Name of this load, its sums, and the sites that it noted. */
  readonly #load: number
  #sums: SiteSums | null = new SiteSums()
  readonly #met = new Set<number>()
  #learning: Promise<void> = Promise.resolve()
  #merging: Promise<void> = Promise.resolve()
  /** Links that are in the graph. */
  saved = 0

  /** `load` names the reading of the file: links that it alone brought bear it. */
  constructor({ pool }: Pick<Context, 'pool'>, graphId: number, load: number, atATime = linksAtATime) {
    this.#pool = pool
    this.#load = load
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
      restOf(link, seenByBits.file),
    )
  }

  /** The same of a link whose ends and anchor have places in the book. */
  addPlaced(target: number, source: number, anchor: number, rest: LinkRest): Promise<void> | undefined {
    const number = this.#lines.count
    this.#lines.addPlaced(target, source, anchor, rest)
    const { book } = this
    if (!this.#seen.isNew(book.samePage(target), book.samePage(source), anchor, rest.rel)) this.#repeated.add(number)
    return number + 1 >= this.#atATime ? this.#save() : undefined
  }

  /** Waits until everything is in the graph, with the sums of the sites that nobody had links to before. */
  async finish(): Promise<void> {
    if (this.#lines.count) await this.#save()
    await this.#merging
    await inTransaction(this.#pool, async db => {
      await lockLinks(db, this.#graphId)
      await saveSums(db, this.#graphId, this.#load, this.#sums)
    })
    this.#sums = null
  }

  #emptyLines(): LinkLines {
    return new LinkLines(this.#graphId, this.book, this.#load)
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
      const { page, anchor } = this.#brought
      this.#brought = { page: Math.min(page, made.page), anchor: Math.min(anchor, made.anchor) }
    })
  }

  async #merge(lines: LinkLines, repeated: ReadonlySet<number>): Promise<void> {
    lines.lookUp()
    const fresh: number[] = []
    const others: number[] = []
    for (let i = 0; i < lines.count; i++) (!repeated.has(i) && lines.isNew(i, this.#brought) ? fresh : others).push(i)
    try {
      await inTransaction(this.#pool, async db => {
        await lockLinks(db, this.#graphId)
        if (fresh.length) {
          const inOrder = lines.inOrder(fresh)
          await this.#note(db, lines.targetSites(inOrder))
          await addLinks(db, lines, inOrder)
        }
        if (others.length) await mergeLinks(db, this.#graphId, lines, others, this.#load)
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
    this.#count(lines, fresh, others)
  }

  /** Notes that sums are old: those of sites that nobody had links to before this list it reckons itself. */
  async #note(db: pg.PoolClient, siteIds: ReadonlySet<number>): Promise<void> {
    const first: number[] = []
    const later: number[] = []
    for (const id of siteIds) (this.#met.has(id) ? later : first).push(id)
    for (const id of first) this.#met.add(id)
    await noteUnsummed(db, this.#graphId, first, this.#load, true)
    await noteUnsummed(db, this.#graphId, later, this.#load, false)
  }

  #count(lines: LinkLines, fresh: readonly number[], others: readonly number[]): void {
    const sums = this.#sums
    if (!sums) return
    for (const i of fresh) lines.sum(sums, i, true)
    for (const i of others) lines.sum(sums, i, false)
    if (sums.isFull) this.#sums = null
  }
}
