/** A part of what was typed: inside a word, whole words in a row, or a pattern. */
export type TextPart = { kind: 'part' | 'phrase' | 'pattern'; text: string }

/**
 * What was typed to be found in texts, in small letters, as alternatives, each of parts that must all be there, the longest first: it leaves the
 * fewest rows for the others. Words may stand in any order and need not be whole; `"a phrase"` is whole words in a row; `*` stands for any letters of
 * a word, and alone in a phrase for any word; ` or ` stands between alternatives.
 */
export function readText(typed: string): TextPart[][] {
  const pieces = typed
    .toLowerCase()
    .replace(/\s+/g, ' ')
    .matchAll(/"([^"]*)"?|(\S+)/g)
  const alternatives: TextPart[][] = [[]]
  for (const [, quoted, word] of pieces) {
    if (word === 'or') alternatives.push([])
    else {
      const text = (quoted ?? word ?? '').trim()
      if (!text.replaceAll('*', '').trim()) continue
      const kind = text.includes('*') ? 'pattern' : quoted === undefined ? 'part' : 'phrase'
      alternatives.at(-1)!.push({ kind, text })
    }
  }
  return alternatives
    .filter(parts => parts.length)
    .map(parts => parts.toSorted((a, b) => b.text.length - a.text.length))
}

/** What finds the whole words of a phrase or pattern in a text of small letters. */
export function wholeWords(text: string): RegExp {
  const words = text
    .split(' ')
    .map(word => (word === '*' ? '[\\p{L}\\p{N}]+' : escaped(word).replaceAll('\\*', '[\\p{L}\\p{N}]*')))
  return new RegExp(`(?<![\\p{L}\\p{N}])${words.join('[^\\p{L}\\p{N}]+')}(?![\\p{L}\\p{N}])`, 'u')
}
const escaped = (text: string): string => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')
