import type { Explanation } from '../tables/explanation.ts'
import { clickShare, type Device } from './click-curve.ts'

/** What a first page shows beside its results. Counts 0 and up. */
export type PageParts = {
  answer: boolean
  questions: number
  images: boolean
  shopping: number
  map: number
  ads: number
}
/** Shares of searches, 0–1, that sum to 1: with a click on a result, with a click on an advertisement, without either. */
export type ClickSplit = { organic: number; paid: number; none: number }

/**
 * Weights that a part of a page adds, against 1 for all searches of a page with results alone. Rounded from what the trade has published
 * of pages with and without each part; real pages differ, so a split is an estimate.
 */
const adWeight = 0.03
const mostAds = 4
const shoppingWeight = 0.012
const mostShopping = 8
const noneWeights = { answer: 0.3, map: 0.12, questions: 0.05, images: 0.03 }

/** Share of searches that click one of the first ten results of a page that shows nothing else: the default click curve summed. */
export function plainOrganicShare(device: Device): number {
  let sum = 0
  for (let position = 1; position <= 10; position++) sum += clickShare(position, device)
  return sum
}

/**
 * How the clicks of a search are likely to be split, from what its first page shows: every part draws attention by its weight, and the
 * results keep what is left. A page without parts gives the sum of the default click curve. O(1).
 */
export function splitClicks(parts: PageParts, device: Device): ClickSplit {
  const plain = plainOrganicShare(device)
  const paid = adWeight * Math.min(parts.ads, mostAds) + shoppingWeight * Math.min(parts.shopping, mostShopping)
  const none =
    1 -
    plain +
    (parts.answer ? noneWeights.answer : 0) +
    (parts.map ? noneWeights.map : 0) +
    (parts.questions ? noneWeights.questions : 0) +
    (parts.images ? noneWeights.images : 0)
  const all = plain + paid + none
  return { organic: plain / all, paid: paid / all, none: none / all }
}

const percent = (share: number): string => `${Math.round(share * 100)}%`

/** The split in words, with what it was reckoned from. */
export function explainSplit(facts: { organic: number | null; paid: number | null; date: string | null }): Explanation {
  const { organic, paid, date } = facts
  const known = organic !== null && paid !== null
  return {
    figure: 'Split of clicks',
    value: known ? `${percent(organic)} results, ${percent(paid)} ads, ${percent(1 - organic - paid)} no click` : null,
    formula:
      'a page of results alone keeps the share of the default click curve; ads and shopping results draw paid clicks; an answer box, map, questions and images leave more searches without a click',
    inputs: [
      { name: 'a page of results alone, desktop', value: percent(plainOrganicShare('desktop')) },
      { name: 'the same on mobile phones', value: percent(plainOrganicShare('mobile')) },
    ],
    source: 'estimate from the first page as it was weighed',
    date,
    note: known
      ? 'An estimate: no source tells where the searchers of one keyword clicked.'
      : 'Weigh the keyword (W): the split follows from what its first page shows.',
  }
}
