import { languageWords } from '../words/language-words.ts'
import { stem } from '../words/stem.ts'
import { splitWords } from '../words/split-words.ts'
import type { LinkKind } from './link-codes.ts'

export const anchorClasses = ['brand', 'exact', 'partial', 'address', 'generic', 'image', 'other'] as const
export type AnchorClass = (typeof anchorClasses)[number]

// Texts that name no subject, by language. Data, not code: whole anchors after splitting into words.
const generic: Record<string, readonly string[]> = {
  en: 'here|click here|this|this page|this site|this article|this link|link|website|site|web site|homepage|home page|home|more|read more|learn more|see more|more info|more information|details|visit|visit site|visit website|visit the site|go|source|via|continue|continue reading|view|view more|view site|see here|have a look|official site|official website|the site|their site|their website|full article|full story|find out more|next|previous|check it out|check this out|on this page|a good page'.split(
    '|',
  ),
  de: 'hier|klick hier|hier klicken|diese seite|dieser artikel|link|webseite|website|homepage|startseite|mehr|weiterlesen|mehr lesen|mehr erfahren|mehr dazu|mehr infos|details|zur seite|zur webseite|zum artikel|quelle|via|ansehen|weiter|zurück|siehe hier|seite'.split(
    '|',
  ),
}
const everyGeneric = new Set(Object.values(generic).flat())
const looksLikeAddress = /^(https?:\/\/\S+|(www\.)?[a-z0-9-]+(\.[a-z0-9-]+)+(\/\S*)?)$/i

/** What is known of the page a link leads to. `brand` are the words its site is called by; `phrases` what the page is about. */
export type AnchorTarget = { domain: string; brand: readonly string[]; phrases: readonly string[]; language: string }

/**
 * What an anchor says: `address` (bare address), `image` (a picture without words), `brand` (the site's name or domain, perhaps with other
 * words), `exact` (a phrase of the target page, same stems), `partial` (shares stems with it), `generic` (names no subject), else `other`.
 * The first that fits in this order: image, address, generic, brand alone, exact, partial, brand with more. The words of a brand do not
 * count as words of a subject: "Clay Harbour" says nothing about clay.
 */
export function anchorClass(anchor: string, kind: LinkKind, target: AnchorTarget): AnchorClass {
  const text = anchor.trim()
  if (!text) return kind === 'image' ? 'image' : 'other'
  if (looksLikeAddress.test(text)) return 'address'
  const words = splitWords(text)
  if (!words.length) return 'other'
  const joined = words.join(' ')
  if (everyGeneric.has(joined)) return 'generic'
  const names = [target.domain.split('.')[0]!, ...target.brand].map(each => splitWords(each).join('')).filter(Boolean)
  const squeezed = words.join('')
  if (names.includes(squeezed)) return 'brand'
  const stems = words.map(word => stem(word, target.language))
  const key = stems.toSorted().join(' ')
  const phraseStems = target.phrases.map(phrase => splitWords(phrase).map(word => stem(word, target.language)))
  if (phraseStems.some(each => each.length && each.toSorted().join(' ') === key)) return 'exact'
  const idle = new Set(Array.from(languageWords(target.language).functionWords, word => stem(word, target.language)))
  const branded = new Set([target.domain.split('.')[0]!, ...target.brand].flatMap(name => splitWords(name)))
  const known = new Set(phraseStems.flat())
  const speaks = words.some((word, i) => !branded.has(word) && !idle.has(stems[i]!) && known.has(stems[i]!))
  if (speaks) return 'partial'
  return names.some(name => name.length > 3 && squeezed.includes(name)) ? 'brand' : 'other'
}
