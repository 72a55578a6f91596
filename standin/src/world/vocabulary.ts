import { readFileSync } from 'node:fs'
import type { AspectSpec, HeadSpec } from './vocabulary-spec.ts'

export type Language = 'en' | 'de'
type Words = { heads: HeadSpec[]; aspects: AspectSpec[]; brands: string[]; adjectives: string[] }

const read = (language: Language): Words =>
  JSON.parse(readFileSync(new URL(`./vocabulary-${language}.json`, import.meta.url), 'utf8')) as Words

export const vocabulary = {
  en: { ...read('en'), cities: ['port hallow', 'wexmere', 'lindle', 'oxcombe'] },
  de: { ...read('de'), cities: ['brunnach', 'steinfurt am see', 'mettau'] },
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
