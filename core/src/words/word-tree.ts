import { splitWords } from './split-words.ts'

export type TreePhrase = { id: number; phrase: string; weight: number | null }
export type TreeNode = {
  /** Words of this step; several where nothing branches in between. */
  words: string
  /** Phrases that go through here. */
  phrases: number
  /** Sum of the known weights of those phrases; `null` where none is known. */
  weight: number | null
  /** The keyword that ends here. */
  id: number | null
  children: TreeNode[]
}
export type WordTree = { before: TreeNode[]; after: TreeNode[]; phrases: number; left: number }

type Open = { phrases: number; weight: number | null; id: number | null; children: Map<string, Open> }
const open = (): Open => ({ phrases: 0, weight: null, id: null, children: new Map() })

/**
 * Word tree of the phrases around a seed (Wattenberg & Viégas 2008): what stands after the seed branches to the right, what
 * stands before it to the left (read from the seed outwards). A phrase with words on both sides stands on the side where
 * it has more of them, whole. Phrases without the seed's words in a row are counted in `left`. Siblings by weight, then by
 * phrases, then by alphabet. O(total words).
 */
export function wordTree(seed: string, phrases: readonly TreePhrase[]): WordTree {
  const seedWords = splitWords(seed)
  const before = open()
  const after = open()
  let left = 0
  for (const phrase of phrases) {
    const words = splitWords(phrase.phrase)
    const at = seedAt(words, seedWords)
    if (at < 0) {
      left++
      continue
    }
    const head = words.slice(0, at)
    const tail = words.slice(at + seedWords.length)
    if (!head.length && !tail.length) continue
    const onRight = tail.length >= head.length
    const path = onRight
      ? head.length
        ? [...tail.slice(0, -1), `${tail.at(-1)} (${head.join(' ')} …)`]
        : tail
      : [...head].reverse().map((word, i) => (i === 0 && tail.length ? `${word} (… ${tail.join(' ')})` : word))
    enter(onRight ? after : before, path, phrase)
  }
  return { before: close(before, true), after: close(after, false), phrases: phrases.length - left, left }
}

function seedAt(words: readonly string[], seed: readonly string[]): number {
  for (let i = 0; seed.length && i + seed.length <= words.length; i++)
    if (seed.every((word, k) => matches(words[i + k]!, word))) return i
  return -1
}
/** A plural of the seed's word is the seed too. */
const matches = (word: string, seed: string): boolean => word === seed || word === `${seed}s` || `${word}s` === seed

function enter(root: Open, path: readonly string[], phrase: TreePhrase): void {
  let node = root
  for (const word of path) {
    let next = node.children.get(word)
    if (!next) node.children.set(word, (next = open()))
    next.phrases++
    if (phrase.weight !== null) next.weight = (next.weight ?? 0) + phrase.weight
    node = next
  }
  node.id ??= phrase.id
}

/** Closes a level: steps with one way on are joined into one. */
function close(node: Open, backwards: boolean): TreeNode[] {
  return [...node.children]
    .map(([word, child]) => {
      let words = word
      let end = child
      while (end.id === null && end.children.size === 1) {
        const [next] = end.children
        words = backwards ? `${next![0]} ${words}` : `${words} ${next![0]}`
        end = next![1]
      }
      return { words, phrases: child.phrases, weight: child.weight, id: end.id, children: close(end, backwards) }
    })
    .sort((a, b) => (b.weight ?? -1) - (a.weight ?? -1) || b.phrases - a.phrases || (a.words < b.words ? -1 : 1))
}
