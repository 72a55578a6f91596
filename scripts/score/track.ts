import { registrableDomain } from '@dew-trail/core/links/registrable-domain'
import { seededDraw } from '@dew-trail/core/links/seeded-draw'
import { effectOfChange } from '@dew-trail/core/positions/effect-of-change'
import { type CheckedDay, engineShifts, movementByDay } from '@dew-trail/core/positions/engine-shifts'
import { gainedAround } from '@dew-trail/core/positions/gained-around'
import { type Evidence, likelyReasons } from '@dew-trail/core/positions/likely-reason'
import { pageSwaps, type PageFrom } from '@dew-trail/core/positions/page-swaps'
import { usualChange } from '@dew-trail/core/positions/usual-change'
import { type Entry, median } from '../lib/measures.ts'
import { type RunningStandin, startStandin } from '../lib/standin.ts'
import { truthOf } from './publishing.ts'

const domain = 'kilnandtide.example'
const [trackedKeywords, historyDays] = [140, 760]
/** Shifts found within so many days of a true one are it. */
const withinDays = 2
const trials = 500
const msADay = 86_400_000

type Series = { phrase: string; engine: string; device: string; positions: Int16Array; pages: Array<string | null> }
type History = { days: string[]; series: Series[] }

const mean = (values: readonly number[]): number => values.reduce((sum, each) => sum + each, 0) / values.length
const shiftDay = (day: string, days: number): string =>
  new Date(Date.parse(day) + days * msADay).toISOString().slice(0, 10)

/** How well Track tells what moved positions, on two years of the own site's positions. */
export const trackScore = (seed: number): Entry => ({
  name: 'track.shift_recall',
  gives: [
    'track.shift_recall',
    'track.shift_false_a_year',
    'track.effect_power',
    'track.effect_false',
    'track.effect_error',
    'track.reason_accuracy',
    'track.swap_f1',
  ],
  async run() {
    const running = await startStandin({ seed })
    try {
      const history = await readHistory(running)
      const shifts = await scoreShifts(running, history)
      const effects = scoreEffects(history, seed)
      const reasons = await scoreReasons(running, history, shifts.found)
      return [
        { name: 'track.shift_recall', value: shifts.recall, unit: 'of true shifts', better: 'higher' },
        {
          name: 'track.shift_false_a_year',
          value: shifts.falseAYear,
          unit: 'a year, all engines and devices',
          better: 'lower',
        },
        { name: 'track.effect_power', value: effects.power, unit: 'of shifts by three places', better: 'higher' },
        { name: 'track.effect_false', value: effects.falsely, unit: 'of notes without effect', better: 'lower' },
        { name: 'track.effect_error', value: effects.error, unit: 'places (median)', better: 'lower' },
        {
          name: 'track.reason_accuracy',
          value: reasons.accuracy,
          unit: `mean over reasons (${reasons.said})`,
          better: 'higher',
          reference: { what: 'always the most frequent', value: reasons.always },
        },
        { name: 'track.swap_f1', value: scoreSwaps(history), unit: 'F1', better: 'higher' },
      ]
    } finally {
      await running.stop()
    }
  },
})

async function readHistory({ url }: RunningStandin): Promise<History> {
  const { today } = (await (await fetch(`${url}/health`)).json()) as { today: string }
  const from = shiftDay(today, 1 - historyDays)
  const query = `site=${domain}&keywords=${trackedKeywords}&from=${from}&to=${today}`
  const answer = await fetch(`${url}/history/positions.csv?${query}`, { headers: { authorization: 'Bearer demo-key' } })
  const [, ...lines] = (await answer.text()).trimEnd().split('\n')
  const days = Array.from({ length: historyDays }, (_, i) => shiftDay(from, i))
  const index = new Map(days.map((day, i) => [day, i]))
  const series = new Map<string, Series>()
  for (const line of lines) {
    const [day, phrase, engine, , , device, rank, page] = line.split(',') as [string, ...string[]]
    const key = `${phrase}|${engine}|${device}`
    let known = series.get(key)
    if (!known) {
      known = { phrase: phrase!, engine: engine!, device: device!, positions: new Int16Array(historyDays), pages: [] }
      series.set(key, known)
    }
    known.positions[index.get(day)!] = rank!.startsWith('>') ? -100 : Number(rank)
    known.pages[index.get(day)!] = page || null
  }
  return { days, series: [...series.values()] }
}

type FoundShifts = Map<string, string[]>
async function scoreShifts(running: RunningStandin, { days, series }: History) {
  const known = await truthOf(running.truth)<Array<{ engine: string; date: string }>>(`/shifts?from=${days[40]}`)
  const found: FoundShifts = new Map()
  let [hits, all, wrong] = [0, 0, 0]
  for (const engine of ['lantern', 'plover']) {
    const markets = ['desktop', 'mobile'].map(device => {
      const of = series.filter(each => each.engine === engine && each.device === device)
      return days.map((day, i): CheckedDay => ({ day, vector: of.map(each => each.positions[i]!) }))
    })
    const shifts = engineShifts(movementByDay(markets)).map(each => each.day)
    found.set(engine, shifts)
    const isNear = (a: string, b: string): boolean => Math.abs(Date.parse(a) - Date.parse(b)) <= withinDays * msADay
    const true_ = known.filter(each => each.engine === engine).map(each => each.date)
    hits += true_.filter(day => shifts.some(other => isNear(day, other))).length
    all += true_.length
    wrong += shifts.filter(day => day >= days[40]! && !true_.some(other => isNear(day, other))).length
  }
  return { recall: hits / all, falseAYear: wrong / ((days.length - 40) / 365), found }
}

/** 500 sets of keywords moved by three places from a day on, and 500 on which nothing was done. */
function scoreEffects({ days, series }: History, seed: number) {
  const draw = seededDraw(seed)
  const of = series.filter(each => each.engine === 'lantern' && each.device === 'desktop')
  let [seen, falsely] = [0, 0]
  const errors: number[] = []
  for (let trial = 0; trial < 2 * trials; trial++) {
    const moved = trial < trials
    const at = 60 + Math.floor(draw() * (days.length - 120))
    const touched = new Set<number>()
    while (touched.size < 12) touched.add(Math.floor(draw() * of.length))
    const by = draw() < 0.5 ? -3 : 3
    const part = (i: number, positions: Int16Array) => {
      const cut = positions.slice(at - 40, at + 40)
      if (moved && touched.has(i))
        for (let day = 40; day < 80; day++) if (cut[day]! > 0) cut[day] = Math.min(100, Math.max(1, cut[day]! - by))
      return { id: i, days: cut }
    }
    const parts = of.map((each, i) => part(i, each.positions))
    const effect = effectOfChange(
      parts.filter(each => touched.has(each.id)),
      parts.filter(each => !touched.has(each.id)),
      40,
      trial,
    )
    if (effect.kind !== 'known') continue
    if (!moved) falsely += Number(effect.clear)
    else {
      if (effect.clear && Math.sign(effect.positions) === Math.sign(by)) seen++
      errors.push(Math.abs(effect.positions - by))
    }
  }
  return { power: seen / trials, falsely: falsely / trials, error: median(errors) }
}

/** Over so many days movements are looked at; so many windows a year. */
const windowDays = 21
type Moved = { phrase: string; from: string; to: string; gained: number; cause: string }

/** The likeliest reason against the truth, for movements of desktop keywords beyond their usual on both engines. */
async function scoreReasons(running: RunningStandin, { days, series }: History, shifts: FoundShifts) {
  const changes = await truthOf(running.truth)<Array<{ date: string; group: string; note: string }>>('/changes')
  const right = new Map<string, { right: number; all: number }>()
  for (const engine of ['lantern', 'plover']) {
    const of = series.filter(each => each.engine === engine && each.device === 'desktop')
    const meanings = await truthOf(running.truth)<Array<{ phrase: string; group: string }>>(
      '/meanings',
      of.map(each => each.phrase),
    )
    const groupOf = new Map(meanings.map(each => [each.phrase, each.group]))
    for (let start = 60; start + windowDays < days.length; start += windowDays) {
      const end = start + windowDays
      const [from, to] = [days[start]!, days[end]!]
      const parts = of.map(each => each.positions.subarray(start - 28, end + 1))
      const at = (day: string): number => days.indexOf(day) - (start - 28)
      const gains = parts.map(part => (gainedAround(part, 29) === null ? null : down(part[28]!) - down(part.at(-1)!)))
      const moved = of
        .map((each, i) => ({ each, part: parts[i]!, gained: gains[i]! }))
        .filter(({ part, gained }) => gained !== null && Math.abs(gained) > (usualChange(part.subarray(0, 29)) ?? 1e9))
      const true_ = await truthOf(running.truth)<Moved[]>(
        `/moved?engine=${engine}&device=desktop`,
        moved.map(({ each }) => ({ phrase: each.phrase, from, to })),
      )
      const shift = shifts.get(engine)!.filter(day => day > from && day <= to)
      const made = changes.filter(each => each.date > shiftDay(from, -7) && each.date <= to)
      for (const [i, { each, part, gained }] of moved.entries()) {
        const cause = true_[i]!.cause
        if (!cause || Math.sign(true_[i]!.gained) !== Math.sign(gained)) continue
        const evidence: Evidence[] = []
        for (const day of shift)
          evidence.push({ kind: 'shift', day, around: gainedAround(part, at(day)), extent: extentOn(parts, at(day)) })
        for (const change of made) {
          if (groupOf.get(each.phrase) !== change.group) continue
          const around = parts.map(other => gainedAround(other, at(change.date), 7))
          const meanOf = (touched: boolean): number =>
            mean(
              around.filter(
                (value, j) => value !== null && (groupOf.get(of[j]!.phrase) === change.group) === touched,
              ) as number[],
            )
          evidence.push({
            kind: 'ownChange',
            day: change.date,
            around: gainedAround(part, at(change.date), 7),
            text: change.note,
            touched: meanOf(true),
            others: meanOf(false),
          })
        }
        for (const swap of pageSwaps(changesOf(each.pages.slice(start - 28, end + 1), days.slice(start - 28)), to))
          if (swap.day > from)
            evidence.push({
              kind: 'swap',
              day: swap.day,
              around: gainedAround(part, at(swap.day)),
              from: swap.from,
              to: swap.to,
            })
        const rivals = await newcomers(running, each, from, to)
        for (const came of [true, false])
          if (rivals[came ? 'came' : 'left'].length)
            evidence.push({ kind: 'rivalPage', pages: rivals[came ? 'came' : 'left'], came })
        const said = likelyReasons(gained, evidence)[0]!.kind
        const count = right.get(cause) ?? { right: 0, all: 0 }
        right.set(cause, count)
        count.all++
        if (said === cause) count.right++
      }
    }
  }
  const counted = [...right].filter(([, { all }]) => all >= 30)
  return {
    accuracy: mean(counted.map(([, each]) => each.right / each.all)),
    always: 1 / counted.length,
    said: [...right].map(([cause, each]) => `${cause} ${each.right}/${each.all}`).join(', '),
  }
}

const down = (position: number): number => (position > 0 ? position : 101)
/** Share of keywords that moved beyond their usual around a day. */
function extentOn(parts: readonly Int16Array[], at: number): number {
  const moves = parts.map(part => ({ gained: gainedAround(part, at), usual: usualChange(part.subarray(0, at)) }))
  const known = moves.filter(each => each.gained !== null && each.usual !== null)
  return known.filter(each => Math.abs(each.gained!) > each.usual!).length / Math.max(1, known.length)
}

/** The page found from each day on. */
const changesOf = (pages: ReadonlyArray<string | null>, days: readonly string[]): PageFrom[] =>
  pages.flatMap((page, i) => (i && pages[i - 1] === page ? [] : [{ day: days[i]!, page: page ?? null }]))

async function newcomers({ url }: RunningStandin, { phrase, engine }: Series, from: string, to: string) {
  const [before, now] = await Promise.all(
    [from, to].map(async date => {
      const query = new URLSearchParams({ q: phrase, language: 'en', num: '50', date })
      const answer = await fetch(`${url}/engines/${engine}/search?${query}`, {
        headers: { authorization: 'Bearer demo-key' },
      })
      return ((await answer.json()) as { organic: Array<{ url: string; position: number }> }).organic
    }),
  )
  const own = (list: Array<{ url: string; position: number }>): number =>
    list.find(each => registrableDomain(each.url) === domain)?.position ?? 51
  const above = (list: typeof before, others: typeof before) =>
    list!
      .filter(each => each.position < own(list!) && !others!.some(other => other.url === each.url))
      .map(({ url: address, position }) => ({ domain: registrableDomain(address), url: address, position }))
  return { came: above(now, before), left: above(before, now) }
}

/** Swaps that last three days or more, found in what changed, against each day looked at by itself. */
function scoreSwaps({ days, series }: History): number {
  let [hits, found, all] = [0, 0, 0]
  for (const { pages } of series) {
    const said = pageSwaps(changesOf(pages, days), days.at(-1)!).map(each => each.day)
    const true_ = slowSwaps(pages).map(at => days[at]!)
    found += said.length
    all += true_.length
    hits += said.filter(day => true_.includes(day)).length
  }
  return (2 * hits) / (found + all)
}

/** Indices of days on which a page begins that stands three days in a row, where the last page that did so was another. */
function slowSwaps(pages: ReadonlyArray<string | null>): number[] {
  const found: number[] = []
  let lasting: string | null = null
  const known = pages.map((page, i) => ({ page, i })).filter(each => each.page)
  known.forEach(({ page, i }, k) => {
    if (page === lasting || known[k - 1]?.page === page) return
    if (known[k + 1]?.page !== page || known[k + 2]?.page !== page) return
    if (lasting !== null) found.push(i)
    lasting = page
  })
  return found
}
