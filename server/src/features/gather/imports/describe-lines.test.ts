import { expect, test } from 'vitest'
import { describeKeyword } from '../../../domain/keywords/describe-keyword.ts'
import { copyLine } from './copy-line.ts'
import { lineDescriber } from './describe-lines.ts'

/** The same lines, made one keyword at a time. */
const slowly = (phrases: string[], language: string, keptAt: string | null): string =>
  phrases
    .map((phrase, i) => {
      const { family, kind, intent, intentShare, words } = describeKeyword(phrase, language, false)
      return copyLine([3, i + 10, language, phrase, family, kind, intent, intentShare, words, keptAt, 't', 8])
    })
    .join('')
const linesOf = (phrases: string[]): Buffer =>
  Buffer.from(phrases.map((phrase, i) => copyLine([i + 10, phrase])).join(''))

const odd = [
  'größe der töpferscheibe',
  'glaze\\slip',
  'a\tb',
  "potter's wheel",
  'ろくろ 陶芸',
  'x'.repeat(200),
  'kiln & wheel',
  'ﬁring',
  '7',
  '2026 2025 2026',
  'the of for',
  'to be',
  'difference between slip and glaze',
  'how to fire a kiln',
  'kiln or oven',
  'kiln near me',
  '3d clay',
  '99ing glazing',
]
/** Phrases of words that repeat, are numbers, tell intents or stand in lists. */
function drawn(count: number): string[] {
  const words =
    'kiln kilns wheel wheels clay for the how vs best near buy casting glazing difference 7 2026 7a v60 in wie oder für'.split(
      ' ',
    )
  let seed = 3
  const next = () => (seed = (seed * 16807) % 2147483647)
  return Array.from({ length: count }, () =>
    Array.from({ length: 1 + (next() % 6) }, () => words[next() % words.length]).join(' '),
  )
}

test.each(['en', 'de', 'xx'])('what is described from bytes is what is described from words (%s)', language => {
  const phrases = [...odd, ...drawn(2_000)]
  const describe = lineDescriber({ siteId: 3, language, keptAt: null, importId: 8 })
  expect(describe(linesOf(phrases)).toString()).toBe(slowly(phrases, language, null))
})

test('parts are described one after another, with the date they are kept from', () => {
  const keptAt = '2026-05-01 10:00:00+00'
  const describe = lineDescriber({ siteId: 3, language: 'en', keptAt, importId: 8 })
  for (const phrases of [drawn(50), odd, drawn(5)])
    expect(describe(linesOf(phrases)).toString()).toBe(slowly(phrases, 'en', keptAt))
  expect(describe(Buffer.alloc(0))).toHaveLength(0)
})

test('a part of odd phrases, whose families take many bytes, has room', () => {
  const phrases = Array.from({ length: 900 }, (_, i) => `${'ß'.repeat(90)} ${'\\'.repeat(99)} ${i}`)
  const describe = lineDescriber({ siteId: 3, language: 'de', keptAt: null, importId: 8 })
  expect(describe(linesOf(phrases)).toString()).toBe(slowly(phrases, 'de', null))
})
