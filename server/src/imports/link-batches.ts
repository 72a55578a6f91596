import type { Context } from '../context.ts'
import { inTransaction } from '../db/pool.ts'
import { AddressBook } from '../links/address-book.ts'
import { lockAddresses, lockLinks, mergeLinks } from '../links/queries.ts'
import { type FoundLink, learnLinks, linkLines } from '../links/save-links.ts'

/** Links saved at a time: a batch costs the database about as much as 5,000 links beside its own. */
const linksAtATime = 100_000

/** Takes links of a file and merges them into a graph batch by batch: addresses of one are learnt while the links of the one before are merged. */
export class LinkBatches {
  readonly #context: Context
  readonly #graphId: number
  readonly #book: AddressBook
  #links: FoundLink[] = []
  /** The batch that the database is taking in while the next one is read. */
  #saving: Promise<void> = Promise.resolve()
  /** Links that are in the graph. */
  saved = 0

  constructor(context: Context, graphId: number) {
    this.#context = context
    this.#graphId = graphId
    this.#book = new AddressBook(graphId)
  }

  async add(link: FoundLink): Promise<void> {
    if (this.#links.push(link) >= linksAtATime) await this.#save()
  }

  /** Waits until everything is in the graph. */
  async finish(): Promise<void> {
    if (this.#links.length) await this.#save()
    await this.#saving
  }

  async #save(): Promise<void> {
    const batch = this.#links
    this.#links = []
    const lines = await this.#learn(batch)
    await this.#saving
    this.#saving = this.#merge(lines, batch.length)
    // An error is thrown where it is waited for, not before.
    this.#saving.catch(() => undefined)
  }

  async #learn(batch: FoundLink[]): Promise<string[]> {
    try {
      await inTransaction(this.#context.pool, async db => {
        await lockAddresses(db, this.#graphId)
        await learnLinks(db, this.#book, batch)
      })
    } catch (error) {
      this.#book.forget()
      throw error
    }
    return [...linkLines(this.#book, 'file', batch)]
  }

  async #merge(lines: string[], count: number): Promise<void> {
    await inTransaction(this.#context.pool, async db => {
      await lockLinks(db, this.#graphId)
      await mergeLinks(db, this.#graphId, lines)
    })
    this.saved += count
  }
}
