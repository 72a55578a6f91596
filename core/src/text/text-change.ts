/**
 * What part of a text is another than before, 0–1: 1 less the words both have (each as often as in the one that has it less) over the mean
 * number of words; order does not count. 0 where both are empty. O(words).
 */
export function textChange(before: string, after: string): number {
  const [were, are] = [wordsOf(before), wordsOf(after)]
  if (!were.length && !are.length) return 0
  const left = new Map<string, number>()
  for (const word of were) left.set(word, (left.get(word) ?? 0) + 1)
  let both = 0
  for (const word of are) {
    const count = left.get(word) ?? 0
    if (!count) continue
    both++
    left.set(word, count - 1)
  }
  return 1 - (2 * both) / (were.length + are.length)
}

const wordsOf = (text: string): string[] => text.toLowerCase().match(/[\p{L}\p{N}]+/gu) ?? []
