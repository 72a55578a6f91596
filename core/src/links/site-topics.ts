import { contentStems } from '../words/coverage.ts'
import { splitWords } from '../words/split-words.ts'
import { stem } from '../words/stem.ts'
import { pageRankDefaults } from './page-rank.ts'
import { seededDraw } from './seeded-draw.ts'
import { type WeightedGraph, weightedRank } from './weighted-rank.ts'

/** What a site says of itself: titles and descriptions of some of its pages. `node` is its number in the site graph. */
export type SiteText = { node: number; language: string; texts: readonly string[] }
/** A subject that sites share: its three most telling words, and the sites whose pages are about it. */
export type Topic = { words: string[]; members: number[] }

/** Fewer sites with words than this show no topics. */
const fewestSites = 12
const fewestMembers = 3
/** A word that so large a share of sites use tells of no subject. */
const commonShare = 0.7
const fewestUsers = 2
const termsOfSite = 80
const mostRounds = 20
const beginnings = 4

type Vector = { terms: Int32Array; weights: Float64Array }

/**
 * Topics of sites by the words of their pages: spherical k-means (Dhillon & Modha 2001) over tf-idf, begun several times by k-means++
 * (Arthur & Vassilvitskii 2007) with fixed seeds, of which the tightest is kept. As many topics as the root of a sixth of the sites, at
 * most `most`; topics of fewer than three sites are dropped, and a site that is like none is in none. Empty where too few sites say
 * anything. O(sites × topics).
 */
export function findTopics(sites: readonly SiteText[], most = 16): Topic[] {
  const { vectors, nodes, words } = vectorsOf(sites)
  if (vectors.length < fewestSites) return []
  const wanted = Math.max(2, Math.min(most, Math.round(Math.sqrt(vectors.length / 6))))
  const trials = Array.from({ length: beginnings }, (_, seed) =>
    gather(vectors, beginFrom(vectors, wanted, words.length, seed)),
  )
  const { centres, topicOf } = trials.reduce((best, each) => (each.like > best.like ? each : best))
  return centres
    .map((centre, topic) => ({
      words: [...centre.keys()]
        .filter(term => centre[term]! > 0)
        .sort((a, b) => centre[b]! - centre[a]! || a - b)
        .slice(0, 3)
        .map(term => words[term]!),
      members: nodes.filter((_, i) => topicOf[i] === topic),
    }))
    .filter(topic => topic.members.length >= fewestMembers)
    .sort((a, b) => b.members.length - a.members.length || (a.words.join() < b.words.join() ? -1 : 1))
}

type Grouping = { centres: Float64Array[]; topicOf: Int32Array; like: number }

/** Moves centres to the middle of the sites nearest to them until nothing changes. `like` is how like their centres the sites are, summed. */
function gather(vectors: readonly Vector[], begin: Float64Array[]): Grouping {
  let centres = begin
  let topicOf = new Int32Array(vectors.length).fill(-1)
  for (let round = 0; round < mostRounds; round++) {
    const next = Int32Array.from(vectors, vector => nearest(vector, centres))
    const same = next.every((topic, i) => topic === topicOf[i])
    topicOf = next
    if (same) break
    const sums = centres.map(centre => new Float64Array(centre.length))
    vectors.forEach(({ terms, weights }, i) => {
      const sum = sums[topicOf[i]!]
      if (sum)
        terms.forEach((term, at) => {
          sum[term]! += weights[at]!
        })
    })
    centres = sums.map(toLengthOne)
  }
  const like = vectors.reduce((sum, vector, i) => sum + (topicOf[i]! < 0 ? 0 : dot(vector, centres[topicOf[i]!]!)), 0)
  return { centres, topicOf, like }
}

/**
 * Where the standing of each site comes from, as a share of every topic that sums to 1 (topic-sensitive PageRank, Haveliwala 2002: a
 * walk that begins anew at the sites of one topic, the topics weighed by their number of sites). A row of `topics.length` numbers a site;
 * all NaN for a site that no topic reaches. O(topics × edges × iterations).
 */
export function topicShares(graph: WeightedGraph, topics: readonly Topic[]): Float64Array {
  const shares = new Float64Array(graph.nodes * topics.length)
  const sums = new Float64Array(graph.nodes)
  const linksOn = new Uint8Array(graph.nodes)
  graph.from.forEach((from, i) => {
    if (from !== graph.to[i]) linksOn[from] = 1
  })
  topics.forEach(({ members }, topic) => {
    const start = new Float64Array(graph.nodes)
    for (const node of members) start[node] = 1 / members.length
    const { rank } = weightedRank(graph, start, { tolerance: 1e-7 })
    // What ends at sites without links begins anew, more often in some topics: without that, what the topics give adds up.
    const ended = rank.reduce((sum, value, node) => sum + (linksOn[node] ? 0 : value), 0)
    const begun = 1 - pageRankDefaults.damping + pageRankDefaults.damping * ended
    for (let node = 0; node < graph.nodes; node++) {
      const part = (rank[node]! * members.length) / begun
      shares[node * topics.length + topic] = part
      sums[node]! += part
    }
  })
  for (let node = 0; node < graph.nodes; node++)
    for (let topic = 0; topic < topics.length; topic++)
      shares[node * topics.length + topic] = sums[node]
        ? shares[node * topics.length + topic]! / sums[node]!
        : Number.NaN
  return shares
}

/** Sites with words as unit vectors of tf-idf, and for each term the form of it that is written most. */
function vectorsOf(sites: readonly SiteText[]): { vectors: Vector[]; nodes: number[]; words: string[] } {
  const ids = new Map<string, number>()
  const forms: Array<Map<string, number>> = []
  const users: number[] = []
  const counted = sites.map(({ language, texts }) => {
    const counts = new Map<number, number>()
    for (const text of texts) {
      const split = splitWords(text)
      const kept = new Set(contentStems(split, language))
      for (const word of new Set(split)) {
        const root = stem(word, language)
        if (!kept.has(root) || /\d/.test(word) || word.length < 3) continue
        let id = ids.get(root)
        if (id === undefined) {
          id = forms.length
          ids.set(root, id)
          forms.push(new Map())
          users.push(0)
        }
        forms[id]!.set(word, (forms[id]!.get(word) ?? 0) + 1)
        counts.set(id, (counts.get(id) ?? 0) + 1)
      }
    }
    for (const id of counts.keys()) users[id]!++
    return counts
  })
  const vectors: Vector[] = []
  const nodes: number[] = []
  sites.forEach(({ node }, i) => {
    const weighted = [...counted[i]!]
      .filter(([id]) => users[id]! >= fewestUsers && users[id]! <= commonShare * sites.length)
      .map(([id, count]): [number, number] => [id, (1 + Math.log(count)) * Math.log(sites.length / users[id]!)])
      .sort((a, b) => b[1] - a[1] || a[0] - b[0])
      .slice(0, termsOfSite)
    if (!weighted.length) return
    nodes.push(node)
    vectors.push({
      terms: Int32Array.from(weighted, each => each[0]),
      weights: toLengthOne(Float64Array.from(weighted, each => each[1])),
    })
  })
  const words = forms.map(form => [...form].reduce((best, each) => (each[1] > best[1] ? each : best))[0])
  return { vectors, nodes, words }
}

/** Sites to begin with, drawn one by one, the less like those before the likelier. */
function beginFrom(vectors: readonly Vector[], wanted: number, size: number, seed: number): Float64Array[] {
  const draw = seededDraw(seed)
  const centres = [dense(vectors[Math.floor(draw() * vectors.length)]!, size)]
  const closest = new Float64Array(vectors.length)
  while (centres.length < wanted) {
    let sum = 0
    const odds = vectors.map((vector, i) => {
      closest[i] = Math.max(closest[i]!, dot(vector, centres.at(-1)!))
      sum += Math.max(0, 1 - closest[i]!) ** 2
      return sum
    })
    const at = draw() * sum
    centres.push(
      dense(
        vectors[
          Math.max(
            0,
            odds.findIndex(upTo => upTo > at),
          )
        ]!,
        size,
      ),
    )
  }
  return centres
}

/** The topic whose centre a site is most like; -1 when it is like none. */
function nearest(vector: Vector, centres: readonly Float64Array[]): number {
  let [best, highest] = [-1, 0]
  centres.forEach((centre, topic) => {
    const like = dot(vector, centre)
    if (like > highest) [best, highest] = [topic, like]
  })
  return best
}

function dot({ terms, weights }: Vector, centre: Float64Array): number {
  let sum = 0
  for (let at = 0; at < terms.length; at++) sum += weights[at]! * centre[terms[at]!]!
  return sum
}

function dense({ terms, weights }: Vector, size: number): Float64Array {
  const out = new Float64Array(size)
  terms.forEach((term, at) => {
    out[term] = weights[at]!
  })
  return out
}

function toLengthOne(values: Float64Array): Float64Array {
  const length = Math.sqrt(values.reduce((sum, value) => sum + value * value, 0))
  return length > 0 ? values.map(value => value / length) : values
}
