declare module 'snowball-stemmers' {
  /** Stemmer of a language by its English name, such as "english"; throws where there is none. */
  export function newStemmer(language: string): { stem(word: string): string }
}
