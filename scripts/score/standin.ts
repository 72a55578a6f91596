import type { Entry } from '../lib/measures.ts'
import { type RunningStandin, startStandin } from '../lib/standin.ts'

const wanted = 400
type Meaning = { phrase: string; need: number; subject: string; group: string; brand_of: string | null }

/** Whether the simulated world behaves like the real one. Everything is asked over HTTP, of the truth port and of the services. */
export const standinScore = (seed: number): Entry => ({
  name: 'standin.believable',
  gives: [
    'standin.indegree_exponent',
    'standin.zipf_exponent',
    'standin.heaps_exponent',
    'standin.shared_same_meaning',
    'standin.shared_same_topic',
    'standin.shared_other_topic',
    'standin.engines_identical',
    'standin.daily_move',
    'standin.shift_move',
  ],
  async run() {
    const running = await startStandin({ seed })
    try {
      const shared = await sharedResults(running)
      const moves = await dailyMoves(running)
      const figures: Array<[name: string, value: number, unit: string, better: 'lower' | 'higher']> = [
        [
          'indegree_exponent',
          await inDegreeExponent(running),
          'tail exponent of linking pages, believable 1.9–2.6',
          'higher',
        ],
        ['zipf_exponent', await zipfExponent(running), 'exponent of demand by rank, believable 0.8–1.3', 'higher'],
        [
          'heaps_exponent',
          await heapsExponent(running),
          'exponent of words by text read, believable 0.35–0.7',
          'higher',
        ],
        ['shared_same_meaning', shared.meaning, 'of 10 results, believable 5–9', 'higher'],
        ['shared_same_topic', shared.topic, 'of 10 results, believable 1–4', 'higher'],
        ['shared_other_topic', shared.other, 'of 10 results, believable 0', 'lower'],
        ['engines_identical', shared.identical, 'share of first pages, believable < 0.05', 'lower'],
        ['daily_move', moves.calm, 'places a day in the first 20', 'lower'],
        ['shift_move', moves.shift, 'places on the day of a shift', 'higher'],
      ]
      return figures.map(([name, value, unit, better]) => ({ name: `standin.${name}`, value, unit, better }))
    } finally {
      await running.stop()
    }
  },
})

const truth = async <T>(running: RunningStandin, path: string, body?: unknown): Promise<T> => {
  const answer = await fetch(
    running.truth + path,
    body === undefined ? {} : { method: 'POST', body: JSON.stringify(body) },
  )
  if (!answer.ok) throw new Error(`The truth port answered ${answer.status} to ${path}: ${await answer.text()}`)
  return (await answer.json()) as T
}

/** Addresses of the first results of a query. */
async function results(
  running: RunningStandin,
  engine: string,
  phrase: string,
  count: number,
  date = '',
): Promise<string[]> {
  const query = new URLSearchParams({ q: phrase, language: 'en', num: String(count), ...(date ? { date } : {}) })
  const answer = await fetch(`${running.url}/engines/${engine}/search?${query}`, {
    headers: { authorization: 'Bearer demo-key' },
  })
  const { organic } = (await answer.json()) as { organic: Array<{ url: string }> }
  return organic.map(each => each.url)
}

/**
 * Exponent of a discrete power law in the tail, by maximum likelihood with the start of the tail (6 to 20) chosen by the
 * Kolmogorov–Smirnov distance (Clauset, Shalizi & Newman 2009), of the number of pages that link to a page today.
 */
async function inDegreeExponent(running: RunningStandin): Promise<number> {
  const links = await truth<Array<{ source: string; target: string; born: string; died: string | null }>>(
    running,
    '/links',
  )
  const { today } = (await (await fetch(`${running.url}/health`)).json()) as { today: string }
  const sources = new Map<string, Set<string>>()
  for (const link of links) {
    if (link.born > today || (link.died !== null && link.died <= today)) continue
    const known = sources.get(link.target)
    if (known) known.add(link.source)
    else sources.set(link.target, new Set([link.source]))
  }
  const degrees = [...sources.values()].map(set => set.size).sort((a, b) => a - b)
  let best = { distance: Number.POSITIVE_INFINITY, exponent: Number.NaN }
  for (let least = 6; least <= 20; least++) {
    const tail = degrees.filter(degree => degree >= least)
    if (tail.length < 60) break
    const exponent = 1 + tail.length / tail.reduce((sum, degree) => sum + Math.log(degree / (least - 0.5)), 0)
    let distance = 0
    tail.forEach((degree, i) => {
      const expected = 1 - ((degree + 0.5) / (least - 0.5)) ** (1 - exponent)
      distance = Math.max(distance, Math.abs((i + 1) / tail.length - expected))
    })
    if (distance < best.distance) best = { distance, exponent }
  }
  return best.exponent
}

/** Least-squares slope of y on x. */
function slope(points: ReadonlyArray<readonly [number, number]>): number {
  const mean = (at: 0 | 1): number => points.reduce((sum, point) => sum + point[at], 0) / points.length
  const [x, y] = [mean(0), mean(1)]
  return (
    points.reduce((sum, point) => sum + (point[0] - x) * (point[1] - y), 0) /
    points.reduce((sum, point) => sum + (point[0] - x) ** 2, 0)
  )
}

/** How demand falls with its rank: minus the slope of log searches on log rank over the upper half. */
async function zipfExponent(running: RunningStandin): Promise<number> {
  const phrases = await truth<string[]>(running, '/keywords?language=en')
  const searches = (await truth<Array<{ searches: number }>>(running, '/searches', phrases))
    .map(each => each.searches)
    .sort((a, b) => b - a)
  return -slope(searches.slice(0, searches.length >> 1).map((value, i) => [Math.log(i + 1), Math.log(value)]))
}

/** How the number of different words grows with the text read: slope of log words on log tokens. */
async function heapsExponent(running: RunningStandin): Promise<number> {
  const pages = await truth<Array<{ url: string; language: string }>>(running, '/pages?every=4')
  const seen = new Set<string>()
  const points: Array<[number, number]> = []
  let tokens = 0
  let next = 1_000
  for (const page of pages.filter(each => each.language === 'en')) {
    const record = await truth<{ paragraphs: string[] }>(running, `/page?url=${encodeURIComponent(page.url)}`)
    for (const word of record.paragraphs
      .join(' ')
      .toLowerCase()
      .match(/[\p{L}\p{N}]+/gu) ?? []) {
      seen.add(word)
      if (++tokens < next) continue
      points.push([Math.log(tokens), Math.log(seen.size)])
      next *= 1.3
    }
  }
  return slope(points)
}

const common = (a: readonly string[], b: readonly string[]): number => a.filter(each => b.includes(each)).length
const mean = (values: readonly number[]): number => values.reduce((sum, value) => sum + value, 0) / values.length

/** Addresses that the first ten results of two keywords share, by how near the keywords are; and how often two engines agree. */
async function sharedResults(
  running: RunningStandin,
): Promise<{ meaning: number; topic: number; other: number; identical: number }> {
  const phrases = await truth<string[]>(running, '/keywords?language=en')
  const meanings = (await truth<Meaning[]>(running, '/meanings', phrases)).filter(each => each.brand_of === null)
  const every = Math.max(1, Math.floor(meanings.length / wanted))
  const pick = <T>(list: T[], at: number): T | undefined => list[(at * 31) % Math.max(1, list.length)]
  const firsts = new Map<string, Promise<string[]>>()
  const first = (phrase: string): Promise<string[]> => {
    let known = firsts.get(phrase)
    if (!known) firsts.set(phrase, (known = results(running, 'lantern', phrase, 10)))
    return known
  }
  const counts = { meaning: [] as number[], topic: [] as number[], other: [] as number[], identical: [] as number[] }
  for (const [i, one] of meanings.filter((_, at) => at % every === 0).entries()) {
    const own = await first(one.phrase)
    const mates = {
      meaning: pick(
        meanings.filter(each => each.need === one.need && each.phrase !== one.phrase),
        i,
      ),
      topic: pick(
        meanings.filter(each => each.subject === one.subject && each.need !== one.need),
        i,
      ),
      other: pick(
        meanings.filter(each => each.group !== one.group),
        i,
      ),
    }
    for (const kind of ['meaning', 'topic', 'other'] as const)
      if (mates[kind]) counts[kind].push(common(own, await first(mates[kind].phrase)))
    counts.identical.push(own.join() === (await results(running, 'plover', one.phrase, 10)).join() ? 1 : 0)
  }
  return {
    meaning: mean(counts.meaning),
    topic: mean(counts.topic),
    other: mean(counts.other),
    identical: mean(counts.identical),
  }
}

/** Mean change of place from one day to the next of the first 20 results, on calm days and on days of a shift; 20 at most. */
async function dailyMoves(running: RunningStandin): Promise<{ calm: number; shift: number }> {
  const phrases = (await truth<string[]>(running, '/keywords?language=en')).filter((_, i) => i % 90 === 0)
  const shifts = await truth<Array<{ engine: string; date: string }>>(running, '/shifts')
  const dayBefore = (date: string, days: number): string =>
    new Date(Date.parse(date) - days * 86_400_000).toISOString().slice(0, 10)
  const moved = async (engine: string, date: string): Promise<number> => {
    const changes: number[] = []
    for (const phrase of phrases) {
      const [before, after] = [
        await results(running, engine, phrase, 60, dayBefore(date, 1)),
        await results(running, engine, phrase, 60, date),
      ]
      before.slice(0, 20).forEach((url, i) => {
        const later = after.indexOf(url)
        changes.push(Math.min(20, Math.abs((later < 0 ? 60 : later) - i)))
      })
    }
    return mean(changes)
  }
  const calm: number[] = []
  const shifted: number[] = []
  for (const { engine, date } of shifts) {
    shifted.push(await moved(engine, date))
    const quiet = [5, 6, 7].map(days => dayBefore(date, days))
    calm.push(await moved(engine, quiet.find(day => !shifts.some(each => each.date === day)) ?? quiet[0]!))
  }
  return { calm: mean(calm), shift: mean(shifted) }
}
