import { Stream, unit } from '../random.ts'
import { type Aspect, fillForm, type Head, matesOf, otherOf, plural } from '../world/keywords.ts'
import { personOf } from '../world/names.ts'
import { type Page, upper } from '../world/pages.ts'
import { vocabulary } from '../world/vocabulary.ts'
import type { World } from '../world/world.ts'
import { grammars, intents, say, type Subject } from './grammar.ts'

/** A part of a page's text. `who` is set for posts of users, `facts` for tables of a product's data. */
export type Section = { heading?: string; paragraphs: string[]; facts?: Array<[string, string]>; who?: string }
export type PageText = { heading: string; sections: Section[] }

const mates = new WeakMap<World, Head[][]>()
const subjectOf = (world: World, page: Page, head: Head, aspect: Aspect | undefined, stream: Stream): Subject => {
  let known = mates.get(world)
  if (!known) mates.set(world, (known = matesOf(world.heads)))
  const words = vocabulary[page.language]
  return {
    language: page.language,
    head: head.name,
    heads: page.language === 'de' ? head.name : plural(head.name),
    other: aspect
      ? otherOf(known[head.id]!, head, aspect)
      : (known[head.id]![stream.int(known[head.id]!.length)]?.name ?? head.name),
    city: stream.pick(words.cities),
    brand: stream.pick(words.brands),
    year: new Date(page.born * 86_400_000).getUTCFullYear(),
  }
}

/** Goes through a list in an order of its own, so that a pattern comes back only when all others were used. */
class Deck<T> {
  #order: T[] = []
  readonly #items: readonly T[]
  readonly #stream: Stream
  constructor(items: readonly T[], stream: Stream) {
    this.#items = items
    this.#stream = stream
  }
  draw(): T {
    if (!this.#order.length) {
      this.#order = [...this.#items]
      for (let i = this.#order.length - 1; i > 0; i--) {
        const j = this.#stream.int(i + 1)
        ;[this.#order[i], this.#order[j]] = [this.#order[j]!, this.#order[i]!]
      }
    }
    return this.#order.pop()!
  }
}

/**
 * The text of a page as sentences about its subject: the main need first, then a part for each further need that it covers.
 * Careful sites write more. A copy has the words of its original with one sentence in fourteen changed. `level` −1 is a
 * page whose text was cut down, 1 one that was extended.
 */
export function writePage(world: World, page: Page, level: -1 | 0 | 1 = 0): PageText {
  if (page.text !== undefined) return pastedText(page)
  const original = page.copyOf >= 0 ? world.pages[page.copyOf]! : page
  const stream = new Stream(world.seed, original.id, 151)
  const grammar = grammars[page.language]
  const general = new Deck(grammar.general, stream)
  if (original.head < 0) return homeText(world, page, stream)
  const head = world.heads[original.head]!
  const main = world.aspects[original.aspect]!
  const facts = new Deck([...(grammar.facts[head.group] ?? []), ...grammar.common], stream)
  const decks = intents.map(intent => new Deck(grammar[intent], stream))
  const full = 1 + Math.round(3 * original.quality)
  const lines = (aspect: Aspect, phrase: string, count: number): string => {
    const subject = subjectOf(world, original, head, aspect, stream)
    const out = [say(decks[stream.weighted(aspect.intent)]!.draw(), subject, phrase, stream)]
    while (out.length < count)
      out.push(
        say(
          stream.chance(0.72)
            ? facts.draw()
            : stream.chance(0.5)
              ? decks[stream.weighted(aspect.intent)]!.draw()
              : general.draw(),
          subject,
          stream.chance(0.4) ? phrase : head.name,
          stream,
        ),
      )
    return out.join(' ')
  }
  const wording = (aspect: Aspect): string => {
    const subject = subjectOf(world, original, head, aspect, stream)
    return fillForm(stream.pick(aspect.forms), head, subject.other, subject.city, subject.brand)
  }
  const sections: Section[] = []
  const opening: Section = { paragraphs: [] }
  for (let i = 0; i < 1 + Math.round(2 * original.quality); i++)
    opening.paragraphs.push(lines(main, original.phrase, 2 + full))
  if (original.kind === 'product') opening.facts = productFacts(original, stream)
  sections.push(opening)
  for (const id of original.also) {
    const aspect = world.aspects[id]!
    const phrase = wording(aspect)
    const text = lines(aspect, phrase, 1 + full)
    // Some needs have a part of their own, others are spoken of in passing.
    if (stream.chance(0.6)) sections.push({ heading: upper(phrase), paragraphs: [text] })
    else sections.at(-1)!.paragraphs.push(text)
  }
  if (original.kind === 'thread')
    for (let i = 0; i < 3 + stream.int(5); i++) {
      const subject = subjectOf(world, original, head, main, stream)
      sections.push({
        who: personOf(stream),
        paragraphs: [say(stream.pick(grammar.post), subject, original.phrase, stream)],
      })
    }
  sections
    .at(-1)!
    .paragraphs.push(say(general.draw(), subjectOf(world, original, head, main, stream), head.name, stream))
  if (level > 0)
    sections.push({
      heading: page.language === 'de' ? 'Häufige Fragen' : 'Questions we are asked',
      paragraphs: [lines(main, original.phrase, 6), lines(main, original.phrase, 6)],
    })
  if (level < 0) sections.splice(1)
  if (original !== page) changeSome(world, page, sections, head, main)
  return { heading: level < 0 ? upper(head.name) : upper(original.phrase), sections }
}

/** Words a copy is changed in: one sentence in fourteen is another one. */
function changeSome(world: World, page: Page, sections: Section[], head: Head, aspect: Aspect): void {
  const stream = new Stream(world.seed, page.id, 152)
  const facts = grammars[page.language].facts[head.group] ?? grammars[page.language].general
  for (const section of sections)
    section.paragraphs = section.paragraphs.map(text =>
      text
        .split(/(?<=[.?!]) (?=\p{Lu})/u)
        .map(sentence =>
          unit(world.seed, page.id, stream.int(1e9)) < 1 / 14
            ? say(stream.pick(facts), subjectOf(world, page, head, aspect, stream), page.phrase, stream)
            : sentence,
        )
        .join(' '),
    )
}

function homeText(world: World, page: Page, stream: Stream): PageText {
  const site = world.sites[page.site]!
  const grammar = grammars[page.language]
  const topics = world.heads.filter(
    head => head.language === page.language && head.parent === undefined && site.groups.includes(head.group),
  )
  const sections: Section[] = []
  const first = topics[0]
  if (first) {
    const subject = subjectOf(world, page, first, undefined, stream)
    sections.push({ paragraphs: [grammar.go.map(each => say(each, subject, site.name, stream)).join(' ')] })
  }
  for (const group of site.groups) {
    const heads = topics.filter(head => head.group === group)
    if (!heads.length) continue
    const head = stream.pick(heads)
    const subject = subjectOf(world, page, head, undefined, stream)
    const list = grammar.facts[group] ?? grammar.general
    sections.push({
      heading: upper(head.name),
      paragraphs: [
        Array.from({ length: 2 + stream.int(2) }, () => say(stream.pick(list), subject, head.name, stream)).join(' '),
      ],
    })
  }
  if (!sections.length)
    sections.push({
      paragraphs: [
        page.language === 'de' ? 'Diese Adresse steht zum Verkauf.' : 'This address may be for sale. Ask for a price.',
      ],
    })
  return { heading: site.name, sections }
}

function productFacts(page: Page, stream: Stream): Array<[string, string]> {
  const german = page.language === 'de'
  return [
    [german ? 'Preis' : 'Price', `${5 + stream.int(900)} ${german ? 'Kronen' : 'crowns'}`],
    [german ? 'Gewicht' : 'Weight', `${1 + stream.int(90)} kg`],
    [german ? 'Maße' : 'Size', `${10 + stream.int(70)} × ${10 + stream.int(60)} × ${8 + stream.int(60)} cm`],
    [german ? 'Artikelnummer' : 'Item number', `${page.id * 7 + 1000}-${stream.int(90) + 10}`],
    [german ? 'Lieferzeit' : 'Delivery', `${1 + stream.int(9)} ${german ? 'Tage' : 'days'}`],
  ]
}

/** Text given through the truth port: lines that start with # are headings, empty lines part paragraphs. */
function pastedText(page: Page): PageText {
  const sections: Section[] = [{ paragraphs: [] }]
  let heading = upper(page.phrase)
  for (const part of page.text!.split(/\n+/)) {
    const line = part.trim()
    if (/^# /.test(line)) heading = line.slice(2)
    else if (/^##+ /.test(line)) sections.push({ heading: line.replace(/^#+ /, ''), paragraphs: [] })
    else if (line) sections.at(-1)!.paragraphs.push(line)
  }
  return { heading, sections }
}
