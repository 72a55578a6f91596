import { adjectivesDe, aspectsDe, brandsDe, headsDe } from './vocabulary-de.ts'
import { adjectivesEn, aspectsEn, brandsEn, headsEn } from './vocabulary-en.ts'

export type HeadSort = 'product' | 'technique' | 'service'
/** What people search around: a thing, a technique or a service. `weight` is its relative demand. */
export type HeadSpec = { name: string; group: string; weight: number; sort: HeadSort }
/**
 * What people want of it. All `forms` mean the same. `intent` = shares of learn, compare, buy, go to a site, find
 * nearby. `sorts` names the sorts of head it goes with by first letter. `season` is the month of the peak.
 */
export type AspectSpec = { name: string; forms: string[]; share: number; intent: number[]; sorts: string; season?: number; groups?: string[] }
export type Language = 'en' | 'de'

export const vocabulary = {
  en: { heads: headsEn, aspects: aspectsEn, brands: brandsEn, adjectives: adjectivesEn, cities: ['port hallow', 'wexmere', 'lindle', 'oxcombe'] },
  de: { heads: headsDe, aspects: aspectsDe, brands: brandsDe, adjectives: adjectivesDe, cities: ['brunnach', 'steinfurt am see', 'mettau'] },
}

/** Place names and their language; the first of each country is the country itself. */
export const places: Array<{ name: string; code: string; country: string; language: Language; share: number }> = [
  { name: 'Tarrow', code: 'tarrow', country: 'tarrow', language: 'en', share: 1 },
  { name: 'Port Hallow', code: 'port-hallow', country: 'tarrow', language: 'en', share: 0.22 },
  { name: 'Wexmere', code: 'wexmere', country: 'tarrow', language: 'en', share: 0.12 },
  { name: 'Lindle', code: 'lindle', country: 'tarrow', language: 'en', share: 0.07 },
  { name: 'Oxcombe', code: 'oxcombe', country: 'tarrow', language: 'en', share: 0.05 },
  { name: 'Verlau', code: 'verlau', country: 'verlau', language: 'de', share: 1 },
]
export const engines = ['lantern', 'plover'] as const
export type Engine = (typeof engines)[number]
export type Device = 'desktop' | 'mobile'
