import { shortDay } from '../days/day-words.ts'
import type { Evidence, ReasonKind } from './likely-reason.ts'

/** What a reason is called. */
export const reasonNames: Record<ReasonKind, string> = {
  shift: 'engine shift',
  ownChange: 'own change',
  swap: 'page swapped',
  competing: 'own pages compete',
  rivalPage: 'pages of others',
  feature: 'result page changed',
  links: 'links',
  unknown: 'unknown',
}

const pathOf = (url: string): string => /^[a-z]+:\/\/[^/?#]*([^#]*)/i.exec(url)?.[1] || '/'
const plural = (count: number, noun: string): string => `${count} ${noun}${count === 1 ? '' : 's'}`
/** "gained 3.5 places then", for what a keyword did around a day. */
const aroundWords = (around: number | null): string =>
  around === null
    ? ''
    : Math.abs(around) < 0.25
      ? ', when it stood still'
      : `, when it ${around > 0 ? 'gained' : 'lost'} ${Math.abs(around).toFixed(1).replace('.0', '')}`

/** What speaks for a reason, in one line. */
export function evidenceWords(evidence: Evidence | null): string {
  if (evidence === null) return 'Nothing that is known fits'
  switch (evidence.kind) {
    case 'shift':
      return `The engine shifted on ${shortDay(evidence.day)}${aroundWords(evidence.around)}; ${Math.round(evidence.extent * 100)}% of your keywords moved`
    case 'ownChange':
      return `${shortDay(evidence.day)}: ${evidence.text}; what it touches ${gainWords(evidence.touched)}, all others ${gainWords(evidence.others)}`
    case 'swap':
      return `${pathOf(evidence.to)} in place of ${pathOf(evidence.from)} since ${shortDay(evidence.day)}${aroundWords(evidence.around)}`
    case 'competing':
      return `${pathOf(evidence.pages[0])} and ${pathOf(evidence.pages[1])} stand both`
    case 'rivalPage': {
      const { pages, came } = evidence
      const [first] = pages
      const named = first ? `${first.domain}${pathOf(first.url)}` : ''
      const more = pages.length > 1 ? ` and ${plural(pages.length - 1, 'other')}` : ''
      return came ? `Above you, not there before: ${named}${more}` : `Stood above you and is gone: ${named}${more}`
    }
    case 'feature':
      return `${evidence.names.join(', ')} ${evidence.came ? 'came' : 'went'} on ${shortDay(evidence.day)}${aroundWords(evidence.around)}`
    case 'links':
      return `${evidence.ofPage ? 'The page' : 'The site'} gained ${plural(evidence.gained, 'linking site')} and lost ${evidence.lost}`
  }
}

const gainWords = (positions: number): string =>
  Math.abs(positions) < 0.05 ? 'stood still' : `${positions > 0 ? 'gained' : 'lost'} ${Math.abs(positions).toFixed(1)}`
