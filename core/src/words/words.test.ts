import { describe, expect, test } from 'vitest'
import { familyKey, figureKey } from './family-key.ts'
import { guessIntent } from './intent.ts'
import { keywordKind } from './keyword-kind.ts'
import { normalForm } from './normal-form.ts'
import { splitWords, splitWordsByUnicode } from './split-words.ts'
import { stem } from './stem.ts'

describe('normal form', () => {
  test.each([
    ['  Pottery   Wheels! ', 'pottery wheels'],
    ['“Kiln”', 'kiln'],
    ['ﬁring', 'firing'],
    ['C++', 'c++'],
    ['(C#)', 'c#'],
    ['.NET', '.net'],
    ['...net', 'net'],
    ['. net', 'net'],
    ['10%', '10%'],
    ['«10 %»', '10'],
    ['$5 mug', '$5 mug'],
    ['5€', '5€'],
    ['#10', '#10'],
    ['#diy', 'diy'],
    ['cone 6°', 'cone 6°'],
    ['kiln +', 'kiln'],
    ['18+', '18+'],
    ['wheel%', 'wheel'],
    ['potter\u2019s', "potter's"],
    ['potter\u02bcs wheel', "potter's wheel"],
    ['potter\u00b4s', "potter's"],
    ['ki\u00adln', 'kiln'],
    ['\ufeffkil\u200bn\u200e', 'kiln'],
    ['\u202akiln\u202c', 'kiln'],
    ['cup \u2615\ufe0f mug', 'cup \u2615 mug'],
    ['kiln\u0007', 'kiln'],
    ['?!', ''],
    ['', ''],
    ['Größe 5 cm²', 'größe 5 cm2'],
    ['a\u00a0b\tc\nd', 'a b c d'],
    ["potter's", "potter's"],
  ])('%j → %j', (from, to) => expect(normalForm(from)).toBe(to))
  test('is its own normal form', () => {
    for (const text of ['  Ä  ö ', '--x--', '№ 5', 'Ünder–glaze', '.c++', '$5€', '##1##', '´`x´', '+.net+', '10%%'])
      expect(normalForm(normalForm(text))).toBe(normalForm(text))
  })
})

describe('words', () => {
  test('the short way gives what Unicode segmentation gives', () => {
    const letters = 'abcz09 äöüß  ab 12,.:;!?)"(-\'’+#%€\n\té–_日'
    let seed = 1
    const next = () => (seed = (seed * 16807) % 2147483647)
    for (let round = 0; round < 5_000; round++) {
      const text = Array.from({ length: next() % 24 }, () => letters[next() % letters.length]).join('')
      expect(splitWords(text)).toEqual(splitWordsByUnicode(text))
    }
  })
  test('punctuation is left out, other scripts are split', () => {
    expect(splitWords('kiln, wheel & clay')).toEqual(['kiln', 'wheel', 'clay'])
    expect(splitWords('')).toEqual([])
  })
})

describe('signs that make another word', () => {
  test.each([
    ['C++ for beginners', ['c++', 'for', 'beginners']],
    ['c# or .net', ['c#', 'or', '.net']],
    ['10% off, $5', ['10%', 'off', '$5']],
    ['a+b. Net', ['a', 'b', 'net']],
    ['3.5 mm', ['3.5', 'mm']],
  ])('%s', (text, words) => expect(splitWords(text)).toEqual(words))
  test('c, c++ and c# are no family', () => {
    expect(new Set(['c course', 'c++ course', 'c# course'].map(phrase => familyKey(phrase, 'en'))).size).toBe(3)
  })
})

describe('stems and families', () => {
  test.each([
    ['wheels', 'en', 'wheel'],
    ['firing', 'en', 'fire'],
    ['glasuren', 'de', 'glasur'],
    ['wheels', 'xx', 'wheels'],
  ])('%s in %s → %s', (word, language, expected) => expect(stem(word, language)).toBe(expected))
  test('singular, order and function words fall together; other words do not', () => {
    const key = familyKey('pottery wheel', 'en')
    for (const same of ['pottery wheels', 'wheel for pottery', 'the pottery wheel'])
      expect(familyKey(same, 'en')).toBe(key)
    for (const other of ['pottery wheel kit', 'pottery', 'wheel']) expect(familyKey(other, 'en')).not.toBe(key)
  })
  test.each([
    ['shelf for kiln', 'kiln shelves', 'en'],
    ['colour chart', 'color charts', 'en'],
    ['kids pottery class', 'pottery class for kids', 'en'],
    ['throwing wheel for beginners', 'beginner throwing wheels', 'en'],
    ['guide to pottery', 'pottery guide', 'en'],
    ['how to use a kiln', 'how do you use kilns', 'en'],
    ['are kilns worth it', 'is a kiln worth it', 'en'],
    ['töpferkurs', 'töpferkurse', 'de'],
    ['kurs', 'kurse', 'de'],
    ['glas bemalen', 'gläser bemalen', 'de'],
    ['pottery parcel', 'pottery parcel pottery', 'en'],
  ])('%s and %s are of one family', (a, b, language) => expect(familyKey(a, language)).toBe(familyKey(b, language)))
  test.each([
    ['berlin to rome', 'rome to berlin', 'en'],
    ['zug von berlin nach rom', 'zug von rom nach berlin', 'de'],
    ['sign in', 'sign on', 'en'],
    ['vitamin a', 'vitamin', 'en'],
    ['glass', 'glasses', 'en'],
    ['universe', 'university', 'en'],
    ['clay past', 'clay paste', 'en'],
    ['schon', 'schön', 'de'],
    ['used pottery wheel', 'using a pottery wheel', 'en'],
    ['throwing wheel', 'wheel throwing', 'en'],
    ['slip casting for kids', 'casting slip for kids', 'en'],
    ['home kiln for home', 'kiln for home', 'en'],
    ['food safe glaze', 'is food glaze safe', 'en'],
    ['electric kiln', 'kiln without electricity', 'en'],
    ['policy', 'police', 'en'],
  ])('%s and %s are not', (a, b, language) => expect(familyKey(a, language)).not.toBe(familyKey(b, language)))
  test('a figure may be of more than a family: the source looks at neither order nor small words', () => {
    for (const same of [
      ['throwing wheel', 'wheel throwing'],
      ['used kiln', 'using a kiln'],
      ['berlin to rome', 'rome to berlin'],
      ['electric kiln', 'kiln electricity'],
    ] as const)
      expect(figureKey(same[0], 'en')).toBe(figureKey(same[1], 'en'))
    expect(figureKey('kiln shelf', 'en')).toBe(figureKey('shelves for kilns', 'en'))
    expect(figureKey('kiln', 'en')).not.toBe(figureKey('kiln kit', 'en'))
  })
  test('a phrase of function words alone keeps them', () => expect(familyKey('to be', 'en')).not.toBe(''))
})

describe('kind', () => {
  test.each([
    ['how to use a kiln', 'question'],
    ['kiln vs oven', 'comparison'],
    ['difference between slip and glaze', 'comparison'],
    ['kiln for home', 'preposition'],
    ['home kiln', 'completion'],
    ['how', 'completion'],
    ['for kiln', 'completion'],
  ])('%s is %s', (phrase, kind) => expect(keywordKind(phrase, 'en', true)).toBe(kind))
  test('what is not a completion is related', () => expect(keywordKind('home kiln', 'en', false)).toBe('related'))
  test('German', () => {
    expect(keywordKind('wie geht töpfern', 'de', true)).toBe('question')
    expect(keywordKind('ton oder porzellan', 'de', true)).toBe('comparison')
  })
})

describe('intent', () => {
  test.each([
    ['how to glaze', 'learn'],
    ['best pottery wheel', 'compare'],
    ['buy kiln', 'buy'],
    ['pottery class near me', 'near'],
    ['clay harbour login', 'go'],
    ['töpferscheibe kaufen', 'buy'],
  ])('%s → %s', (phrase, intent) => {
    const guess = guessIntent(phrase)
    expect(guess.intent).toBe(intent)
    expect(guess.probability).toBeGreaterThan(0.4)
    expect(guess.probability).toBeLessThan(1)
  })
  test('words that name parts of every object tell nothing', () => {
    for (const word of ['constructor', 'valueof', 'hasownproperty', '__proto__'])
      expect(guessIntent(`${word} kiln`).reasons).toEqual(guessIntent('zzz kiln').reasons)
  })
  test('word forms count like their word, activities want to know how, brands want to go there', () => {
    expect(guessIntent('kiln prices').reasons).toContain('the word "prices"')
    expect(guessIntent('slip casting')).toMatchObject({ intent: 'learn', reasons: ['the activity "casting"'] })
    expect(guessIntent('clay harbour', undefined, true).intent).toBe('go')
    expect(guessIntent('clay harbour reviews', undefined, true).probability).toBeLessThan(0.9)
  })
  test('what the page shows moves the guess, with a reason', () => {
    const plain = guessIntent('pottery studio')
    const local = guessIntent('pottery studio', { local: true, shopping: false, answer: false })
    expect(local.intent).toBe('near')
    expect(local.probability).toBeGreaterThan(plain.intent === 'near' ? plain.probability : 0)
    expect(local.reasons).toContain('a map on the first page')
  })
})
