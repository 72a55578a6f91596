/** Beyond so many different words a phrase lends its searches only to runs of its words, not to every choice of them. */
const mostChosen = 8

/** A keyword as these sums look at it; of equal `figures` are those for which the ads data may have one figure together. */
export type MatchKeyword = { words: readonly string[]; searches: number | null; figures: string | number }

/**
 * Searches a month, summed over a body of keywords, of phrases that hold each keyword. In the order of the keywords:
 * `exact`: of the keyword itself; `NaN` where they are not known or other forms share its figure.
 * `inOrder`: of phrases with its words side by side in its order; `NaN` where phrases of both orders share one figure, so that nobody can tell.
 * `anyOrder`: of phrases with all its words, wherever they stand. `others`: how many other figures than its own each sum holds.
 * Figures that several forms share are counted once. What nobody gathered is not in the sums: they are at least so much.
 * O(keywords × 2^words), for phrases of up to eight words.
 */
export function matchTotals(keywords: readonly MatchKeyword[]): {
  exact: Float64Array
  inOrder: Float64Array
  anyOrder: Float64Array
  others: Uint32Array
} {
  const byRun = new Map<string, number>()
  const byWords = new Map<string, number[]>()
  for (const [i, { words }] of keywords.entries()) {
    byRun.set(words.join(' '), i)
    const key = keyOf(words)
    const list = byWords.get(key)
    if (list) list.push(i)
    else byWords.set(key, [i])
  }
  const exact = new Float64Array(keywords.length).fill(Number.NaN)
  const inOrder = new Float64Array(keywords.length)
  const anyOrder = new Float64Array(keywords.length)
  const others = new Uint32Array(keywords.length)
  // Marks of the last figure and the last phrase that met a keyword, which save a set for each of them.
  const [ordered, loose, met] = [0, 1, 2].map(() => new Int32Array(keywords.length).fill(-1)) as [
    Int32Array,
    Int32Array,
    Int32Array,
  ]
  for (const [figure, members] of figuresOf(keywords).entries()) {
    const { searches } = keywords[members[0]!]!
    if (members.length === 1) exact[members[0]!] = searches!
    for (const member of members) {
      const { words } = keywords[member]!
      for (const run of runsOf(words)) {
        const at = byRun.get(run)
        if (at === undefined) continue
        met[at] = member
        if (ordered[at] !== figure) inOrder[at]! += searches!
        if (ordered[at] !== figure && loose[at] !== figure) add(at, searches!, members)
        if (loose[at] === figure) inOrder[at] = Number.NaN
        ordered[at] = figure
      }
      for (const key of choicesOf(words))
        for (const at of byWords.get(key) ?? []) {
          if (met[at] === member || loose[at] === figure) continue
          if (ordered[at] === figure) inOrder[at] = Number.NaN
          else add(at, searches!, members)
          loose[at] = figure
        }
    }
  }
  return { exact, inOrder, anyOrder, others }

  function add(at: number, searches: number, members: readonly number[]): void {
    anyOrder[at]! += searches
    if (!members.includes(at)) others[at]!++
  }
}

const keyOf = (words: readonly string[]): string => [...new Set(words)].sort().join(' ')

/** Keywords with one figure together, of those with searches. */
function figuresOf(keywords: readonly MatchKeyword[]): number[][] {
  const groups = new Map<string, number[]>()
  for (const [i, { searches, figures }] of keywords.entries()) {
    if (!searches) continue
    const key = `${searches} ${figures}`
    const group = groups.get(key)
    if (group) group.push(i)
    else groups.set(key, [i])
  }
  return [...groups.values()]
}

/** All runs of words of a phrase, itself included. */
function runsOf(words: readonly string[]): Set<string> {
  const runs = new Set<string>()
  for (let from = 0; from < words.length; from++) {
    let run = ''
    for (let to = from; to < words.length; to++) runs.add((run = run ? `${run} ${words[to]}` : words[to]!))
  }
  return runs
}

/** Keys of all choices of words of a phrase; of a long one, of its runs. */
function choicesOf(words: readonly string[]): Set<string> {
  const distinct = [...new Set(words)].sort()
  if (distinct.length > mostChosen) return new Set([...runsOf(words)].map(run => keyOf(run.split(' '))))
  const keys = new Set<string>()
  for (let chosen = 1; chosen < 1 << distinct.length; chosen++)
    keys.add(distinct.filter((_, i) => chosen & (1 << i)).join(' '))
  return keys
}
