import { setImmediate as pause } from 'node:timers/promises'
import { isoOf, monthIso, monthOf } from '../calendar.ts'
import { unit } from '../random.ts'
import { planRanking } from '../rank/candidates.ts'
import { rankOn } from '../rank/rank.ts'
import type { Setting } from '../rank/rule.ts'
import { understand } from '../rank/understand.ts'
import type { Keyword } from '../world/keywords.ts'
import type { Page } from '../world/pages.ts'
import type { Language } from '../world/vocabulary.ts'
import { addressOf, type World } from '../world/world.ts'
import { pagesOfTarget } from './feed.ts'

export type Edition = 'weekly' | 'full'
/** Share of all keywords that the feed covers, and of those the share that the weekly edition reads. */
const covered = 0.72
const weeklyShare = 0.25
const depths: Record<Edition, number> = { weekly: 20, full: 100 }
/** Keywords ranked between two breaths, so that other requests are answered meanwhile. */
const atOnce = 25
const mostKept = 6

type Shelf = { keywords: Keyword[]; pages: Page[][] }

/** The rankings feed: result pages of many keywords, read by edition and told by who stands on them. */
export class Rankings {
  readonly #world: World
  readonly #shelves = new Map<string, Promise<Shelf>>()
  #edition: number

  constructor(world: World) {
    this.#world = world
    this.#edition = world.edition
  }

  /** The day whose results an edition of a month has; the current month where none is named. */
  #dayOf(edition: Edition, month: number | null): number {
    const { today } = this.#world
    if (edition === 'weekly') return today - ((new Date(today * 86_400_000).getUTCDay() + 6) % 7)
    const wanted = month ?? monthOf(today)
    return Math.floor(Date.UTC(Math.floor(wanted / 12), wanted % 12, 1) / 86_400_000)
  }

  /** Keywords that an edition covers, the most searched first. */
  #keywordsOf(edition: Edition, language: Language): Keyword[] {
    const { seed, keywords } = this.#world
    const all = keywords
      .filter(keyword => keyword.language === language && unit(seed, keyword.id, 731) < covered)
      .sort((a, b) => b.base - a.base || a.id - b.id)
    return edition === 'full' ? all : all.slice(0, Math.round(all.length * weeklyShare))
  }

  async #read(edition: Edition, setting: Setting, language: Language, day: number): Promise<Shelf> {
    const keywords = this.#keywordsOf(edition, language)
    const pages: Page[][] = []
    for (const [i, keyword] of keywords.entries()) {
      if (i % atOnce === 0) await pause()
      const query = understand(this.#world, keyword.phrase, language)
      pages.push(query ? rankOn(this.#world, planRanking(this.#world, query, setting), day, depths[edition]) : [])
    }
    return { keywords, pages }
  }

  #shelf(edition: Edition, setting: Setting, language: Language, day: number): Promise<Shelf> {
    if (this.#edition !== this.#world.edition) {
      this.#shelves.clear()
      this.#edition = this.#world.edition
    }
    const key = [edition, setting.engine, setting.device, setting.place, language, day].join('|')
    const known = this.#shelves.get(key)
    if (known) return known
    const made = this.#read(edition, setting, language, day)
    this.#shelves.set(key, made)
    if (this.#shelves.size > mostKept) this.#shelves.delete(this.#shelves.keys().next().value!)
    return made
  }

  /** Keywords for which a target stands in an edition, the most searched first, from `from` on. */
  async ranked(
    target: string,
    edition: Edition,
    month: number | null,
    setting: Setting,
    language: Language,
    from: number,
    size: number,
  ): Promise<object> {
    const day = this.#dayOf(edition, month)
    const { keywords, pages } = await this.#shelf(edition, setting, language, day)
    const wanted = new Set(pagesOfTarget(this.#world, target))
    const rows = keywords.flatMap((keyword, i) => {
      const at = pages[i]!.findIndex(page => wanted.has(page))
      return at < 0 ? [] : [{ text: keyword.phrase, position: at + 1, url: addressOf(this.#world, pages[i]![at]!) }]
    })
    return {
      target,
      edition,
      month: monthIso(monthOf(day)),
      as_of: isoOf(day),
      keywords: keywords.length,
      total: rows.length,
      rows: rows.slice(from, from + size),
      next_cursor: from + size < rows.length ? String(from + size) : null,
    }
  }
}
