/** Word lists of a language, data rather than code. `functionWords` carry no subject; the others mark kinds of keywords. */
export type LanguageWords = {
  stemmer: string
  functionWords: ReadonlySet<string>
  questions: ReadonlySet<string>
  prepositions: ReadonlySet<string>
  comparisons: ReadonlySet<string>
  /** Words before a target ("berlin to rome"), and words behind which they name none ("guide to"). */
  targets: ReadonlySet<string>
  complements: ReadonlySet<string>
  /** Function words that mean something of their own at the end of a phrase. */
  last: ReadonlySet<string>
  /** Forms that name a doing, whose order with the words around them counts. */
  doing?: RegExp
}

const en: LanguageWords = {
  stemmer: 'english',
  functionWords: new Set([
    'a',
    'an',
    'the',
    'of',
    'for',
    'to',
    'in',
    'on',
    'at',
    'by',
    'and',
    'is',
    'are',
    'do',
    'does',
    'be',
    'my',
    'your',
    'i',
    'you',
    'it',
    'with',
    'from',
  ]),
  questions: new Set([
    'how',
    'what',
    'why',
    'when',
    'where',
    'which',
    'who',
    'can',
    'is',
    'are',
    'does',
    'do',
    'should',
    'will',
  ]),
  prepositions: new Set(['for', 'with', 'without', 'near', 'in', 'on', 'to', 'from', 'under', 'at', 'by']),
  comparisons: new Set(['vs', 'versus', 'or', 'compared', 'difference', 'alternative', 'alternatives']),
  targets: new Set(['to', 'into']),
  complements: new Set(
    'how what when where why way ways tips guide guides introduction intro best need want like have has learn easy things steps answer key alternative alternatives similar close next compared related due according reasons time used going'.split(
      ' ',
    ),
  ),
  last: new Set(['in', 'on', 'a', 'i']),
  doing: /^[a-z]{3,}ing$/,
}
const de: LanguageWords = {
  stemmer: 'german',
  functionWords: new Set([
    'der',
    'die',
    'das',
    'ein',
    'eine',
    'einen',
    'für',
    'in',
    'im',
    'am',
    'an',
    'auf',
    'mit',
    'von',
    'zu',
    'zum',
    'zur',
    'und',
    'ist',
    'sind',
    'man',
    'ich',
  ]),
  questions: new Set([
    'wie',
    'was',
    'warum',
    'wann',
    'wo',
    'welche',
    'welcher',
    'welches',
    'wer',
    'kann',
    'ist',
    'sind',
    'soll',
  ]),
  prepositions: new Set(['für', 'mit', 'ohne', 'in', 'im', 'auf', 'aus', 'unter', 'bei', 'zum', 'zur']),
  comparisons: new Set(['oder', 'gegen', 'vergleich', 'unterschied', 'alternative', 'vs']),
  targets: new Set(['nach', 'bis']),
  complements: new Set(['wie', 'was', 'wann', 'wo', 'warum', 'suche', 'je']),
  last: new Set(['an', 'auf', 'zu']),
}
const none: LanguageWords = {
  stemmer: '',
  functionWords: new Set([]),
  questions: new Set([]),
  prepositions: new Set([]),
  comparisons: new Set(['vs']),
  targets: new Set([]),
  complements: new Set([]),
  last: new Set([]),
}

/** Lists for an ISO 639-1 code; languages without lists get empty ones, so nothing is guessed. */
export function languageWords(language: string): LanguageWords {
  return language === 'en' ? en : language === 'de' ? de : none
}
