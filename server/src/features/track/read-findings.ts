import type { Market } from '@dew-trail/contract/sites'
import { AppError } from '@dew-trail/contract/errors'
import { normalForm } from '@dew-trail/core/words/normal-form'
import { GrowingInts } from '../../domain/graph/growing-ints.ts'
import type { OpenImport } from '../../domain/imports/open-import.ts'
import { readPosition } from '../../domain/imports/read-cells.ts'
import { CellMeanings, linesIn, PlainLine } from '../../platform/files/plain-line.ts'

type NamedMarket = Omit<Market, 'id' | 'name' | 'paused'>
/** What a file says of one market: of each line the numbers of its keyword, day and page, and the position. */
export type MarketFindings = { market: NamedMarket; lines: GrowingInts }
const numbersOfLine = 4

/** Texts by number, each once: a year of positions repeats the same few. */
class Numbered {
  readonly texts: string[] = []
  readonly #numbers = new Map<string, number>()
  of(text: string): number {
    let number = this.#numbers.get(text)
    if (number === undefined) {
      number = this.texts.push(text) - 1
      this.#numbers.set(text, number)
    }
    return number
  }
}

/** What a cell says as a number, or what is wrong with it. */
type Value = number | string
type Field = 'phrase' | 'date' | 'position' | 'url' | 'engine' | 'country' | 'language' | 'device'
const fields: readonly Field[] = ['phrase', 'date', 'position', 'url', 'engine', 'country', 'language', 'device']
const noPage = 0
const mostNames = 8_192

/** Reads the lines of a file of positions; what its cells mean is asked once of each different one. */
export class FindingsReader {
  readonly #file: OpenImport
  readonly #line: PlainLine
  readonly #meanings: Record<Field, CellMeanings<Value>>
  readonly phrases = new Numbered()
  readonly days = new Numbered()
  /** The first stands for none. */
  readonly urls = new Numbered()
  readonly #names = new Numbered()
  readonly #markets = new Map<number, MarketFindings>()
  /** Lines that are not empty. */
  lines = 0

  constructor(file: OpenImport, fallback: NamedMarket) {
    this.#file = file
    this.#line = new PlainLine(file.row.separator, file.row.encoding)
    this.urls.of('')
    const name = (inPlaceOfNone: string) =>
      new CellMeanings<Value>(text => this.#names.of(text.toLowerCase() || inPlaceOfNone))
    this.#meanings = {
      phrase: new CellMeanings(text => {
        const phrase = normalForm(text)
        if (!phrase) return 'The keyword is empty'
        return phrase.length > 200 ? 'The keyword has over 200 characters' : this.phrases.of(phrase)
      }),
      date: new CellMeanings(text => {
        const day = file.day(text)
        return 'wrong' in day ? `The date ${day.wrong}` : this.days.of(day.value)
      }),
      position: new CellMeanings(text => {
        const position = readPosition(text)
        return 'wrong' in position ? `The position ${position.wrong}` : position.value
      }),
      url: new CellMeanings(text => this.urls.of(text)),
      engine: name(fallback.engine),
      country: name(fallback.place),
      language: name(fallback.language),
      device: new CellMeanings(text => {
        const device = text.toLowerCase() || fallback.device
        return device === 'desktop' || device === 'mobile'
          ? this.#names.of(device)
          : 'The device is neither desktop nor mobile'
      }),
    }
  }

  /** Findings by market, in the order in which the file names the markets. */
  get markets(): MarketFindings[] {
    return [...this.#markets.values()]
  }
  get count(): number {
    return this.markets.reduce((sum, { lines }) => sum + lines.count / numbersOfLine, 0)
  }

  /** Reads whole lines without quotes from their bytes. */
  readPlain(bytes: Buffer, firstLine: number): void {
    const line = this.#line
    const { mapping } = this.#file
    const values: Value[] = []
    for (const { begin, stop, number } of linesIn(bytes)) {
      if (stop <= begin) continue
      if (!line.split(bytes, begin, stop)) {
        this.readRow(line.decode(bytes, begin, stop).split(this.#file.row.separator), firstLine + number)
        continue
      }
      if (line.cells === 1 && !line.text(bytes, 0)) continue
      for (let i = 0; i < fields.length; i++)
        values[i] = this.#meanings[fields[i]!].of(line, bytes, mapping[fields[i]!])
      const wrong = this.#take(values)
      if (wrong)
        this.#file.say(firstLine + number, values[fields.indexOf(wrong)] as string, line.text(bytes, mapping[wrong]))
    }
  }

  /** Reads a row of texts. */
  readRow(cells: readonly string[], line: number): void {
    if (cells.length === 1 && cells[0]!.trim() === '') return
    const texts = fields.map(field => this.#file.cell(cells, field))
    const values = fields.map((field, i) => this.#meanings[field].ofText(texts[i]!))
    const wrong = this.#take(values)
    if (wrong) this.#file.say(line, values[fields.indexOf(wrong)] as string, texts[fields.indexOf(wrong)]!)
  }

  /** Takes what a line says; gives the first field in which something is wrong. */
  #take(values: readonly Value[]): Field | null {
    this.lines++
    const [phrase, day, position, url, engine, place, language, device] = values
    if (typeof phrase === 'string') return 'phrase'
    if (typeof day === 'string') return 'date'
    if (typeof position === 'string') return 'position'
    // Not checked: there is nothing to keep.
    if (position === 0) return null
    if (typeof device === 'string') return 'device'
    const { lines } = this.#market(engine as number, place as number, language as number, device!)
    lines.push(phrase!)
    lines.push(day!)
    lines.push(position!)
    lines.push(url as number)
    return null
  }

  #market(engine: number, place: number, language: number, device: number): MarketFindings {
    // Names of markets are few: 13 bits of each tell them apart in a number that is exact.
    if (this.#names.texts.length > mostNames)
      throw new AppError(
        'badInput',
        `The file names over ${mostNames.toLocaleString('en')} engines, countries and languages; is one of these columns another one? Nothing was imported.`,
      )
    const key = ((engine * mostNames + place) * mostNames + language) * mostNames + device
    let market = this.#markets.get(key)
    if (!market) {
      const { texts } = this.#names
      market = {
        market: {
          engine: texts[engine]!,
          place: texts[place]!,
          language: texts[language]!,
          device: texts[device] as Market['device'],
        },
        lines: new GrowingInts(),
      }
      this.#markets.set(key, market)
    }
    return market
  }

  /** Calls `take` with what each line of a market said, in the order of the file; `url` null where it names no page. */
  each(
    { lines }: MarketFindings,
    take: (phrase: number, day: string, position: number, url: string | null) => void,
  ): void {
    const numbers = lines.view()
    for (let i = 0; i < numbers.length; i += numbersOfLine) {
      const url = numbers[i + 3]!
      take(
        numbers[i]!,
        this.days.texts[numbers[i + 1]!]!,
        numbers[i + 2]!,
        url === noPage ? null : this.urls.texts[url]!,
      )
    }
  }
}
