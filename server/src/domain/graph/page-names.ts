import { identityOfAddress } from '@dew-trail/core/web/page-identity'
import { GrowingInts } from './growing-ints.ts'
import { Names } from './names.ts'

const secure = 'https://'

/** The address by which a page is found, however it is written: without tracking parameters, and with `https`, which stands for both schemes. */
const plainAddress = (address: string): string =>
  address.startsWith(secure) && !address.includes('?') ? address : secure + identityOfAddress(address)

/**
 * Addresses as they are written, each with its place, and the pages that they are of: `http` and `https` are one page, and so is an address
 * with tracking parameters and the one without. A page has the place of its plain address, whether or not that was met.
 */
export class PageNames {
  readonly names = new Names()
  /** By place: that of the page; whether the address was met; of pages, the place of the address that the page bears in the database. */
  readonly #pages = new GrowingInts()
  readonly #met = new GrowingInts()
  readonly #own = new GrowingInts()
  #newPages: number[] = []
  #newAddresses: number[] = []

  clear(): void {
    this.names.clear()
    for (const list of [this.#pages, this.#met, this.#own]) list.clear()
    this.#newPages = []
    this.#newAddresses = []
  }

  /** Place of an address as `pageAddress` writes it. */
  at(address: string): number {
    return this.#meet(this.#enter(address))
  }
  /** Place of an address given as its UTF-8, -1 when it has none. */
  find(bytes: Buffer, from: number, to: number): number {
    const place = this.names.find(bytes, from, to)
    return place < 0 ? place : this.#meet(place)
  }
  /** Place of the page of an address. */
  page(place: number): number {
    return this.#pages.get(place)
  }
  /** Place of the address that a page bears: the one it was first met with, until `setOwn` tells what the database has. */
  own(page: number): number {
    return this.#own.get(page)
  }
  setOwn(page: number, address: string): void {
    this.#own.set(page, this.#enter(address))
  }
  /** UTF-8 of what a page is known by (`pageIdentity`). */
  identity(page: number): Buffer {
    return this.names.contents.subarray(this.names.start(page) + secure.length, this.names.start(page + 1))
  }
  /** Places of pages that nobody has taken to learn them, and of addresses that were met since. */
  take(): { pages: number[]; addresses: number[] } {
    const taken = { pages: this.#newPages, addresses: this.#newAddresses }
    this.#newPages = []
    this.#newAddresses = []
    return taken
  }

  #meet(place: number): number {
    if (!this.#met.get(place)) {
      this.#met.set(place, 1)
      this.#newAddresses.push(place)
    }
    return place
  }

  #enter(address: string): number {
    const place = this.names.at(address)
    if (place < this.#pages.count) return place
    this.#push(place)
    const plain = plainAddress(address)
    if (plain === address) this.#newPages.push(place)
    else {
      const page = this.names.at(plain)
      if (page === this.#pages.count) {
        this.#push(page)
        this.#own.set(page, place)
        this.#newPages.push(page)
      }
      this.#pages.set(place, page)
    }
    return place
  }

  #push(place: number): void {
    this.#pages.push(place)
    this.#own.push(place)
    this.#met.push(0)
  }
}
