import { adjectivesDe, aspectsDe, brandsDe, headsDe } from './vocabulary-de.ts'
import { adjectivesEn, aspectsEn, brandsEn, headsEn } from './vocabulary-en.ts'

export type Language = 'en' | 'de'

export const vocabulary = {
  en: {
    heads: headsEn,
    aspects: aspectsEn,
    brands: brandsEn,
    adjectives: adjectivesEn,
    cities: ['port hallow', 'wexmere', 'lindle', 'oxcombe'],
  },
  de: {
    heads: headsDe,
    aspects: aspectsDe,
    brands: brandsDe,
    adjectives: adjectivesDe,
    cities: ['brunnach', 'steinfurt am see', 'mettau'],
  },
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
