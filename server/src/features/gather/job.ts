import { type CompletionGroup, completionGroups, type GatherWay } from '@dew-trail/contract/gather'
import type { Unmet } from '@dew-trail/core/words/store-conditions'
import PQueue from 'p-queue'
import type { Context } from '../../context.ts'
import type { JobControl } from '../../platform/jobs/job-control.ts'
import { needMarket, needSite } from '../../domain/sites/need-market.ts'
import { SourceError } from '../../platform/outside/source-error.ts'
import { askDemand, figuresAtATime } from '../../domain/keywords/ask-demand.ts'
import { settleMatches } from '../../domain/keywords/match-totals.ts'
import { manyTopPhrases, manyWithoutDemand, oneGathering, setDropped, setShort } from '../../domain/keywords/queries.ts'
import { manyPhrasesFoundFor } from '../../domain/results/queries.ts'
import { type Idea, saveIdeas } from '../../domain/keywords/save-ideas.ts'
import { pagePhrases } from '@dew-trail/core/words/page-phrases'
import { readAddressSeed } from '../../domain/pages/address-seed.ts'
import { pageTexts } from '../../domain/graph/page-texts.ts'
import { prepareRows } from '../../domain/keyword-rows/prepare-rows.ts'
import { Sieve, withFigures } from './sieve.ts'
import { typedStarts } from './typed-starts.ts'

const relatedFrom = 12
/** Phrases of pages that are kept, and those of them that ask the ads data for ideas. */
const mostPagePhrases = 300
const seedsOfPages = 10

/**
 * Gathers from one seed. Every request is a step named in the progress once its rows are saved, so a paused, killed or partly failed
 * gathering goes on with what is missing. A source that fails is noted and the rest goes on.
 */
export async function gatherJob(context: Context, control: JobControl): Promise<object> {
  const gathering = await oneGathering(context.pool, control.siteId, Number(control.job.payload.gatheringId))
  const market = await needMarket(context.pool, gathering.siteId, gathering.marketId)
  const finished = new Set((control.progress.finished as string[] | undefined) ?? [])
  let found = gathering.found
  let steps = 0
  let planned = 0
  control.clearWarnings()

  const publish = (): void => {
    context.events.publish(gathering.siteId, { type: 'keywords' })
    context.events.publish(gathering.siteId, { type: 'gatherings' })
  }
  const step = async (name: string, work: () => Promise<void>): Promise<boolean> => {
    if (finished.has(name)) {
      steps++
      return true
    }
    let worked = true
    try {
      await work()
      finished.add(name)
      control.progress.finished = [...finished]
      publish()
    } catch (error) {
      if (!(error instanceof SourceError)) throw error
      control.warn(error.message)
      worked = false
    }
    steps++
    await control.step(steps, planned)
    return worked
  }
  const droppedBefore = (control.progress.dropped as [string, Unmet][] | undefined) ?? []
  const { averageMonths: period } = await needSite(context.pool, gathering.siteId)
  const sieve = new Sieve(gathering.conditions, { language: market.language, period }, droppedBefore)
  const save = async (way: string, ideas: Idea[]): Promise<void> => {
    const known = sieve.wantsFigures ? await withFigures(context, market, ideas, control.signal) : ideas
    found = await saveIdeas(
      context.pool,
      { siteId: gathering.siteId, gatheringId: gathering.id, language: market.language, place: market.place, way },
      known.filter(idea => sieve.passes(idea)),
    )
    control.progress.dropped = sieve.dropped
    await setDropped(context.pool, gathering.siteId, gathering.id, sieve.counts())
  }
  const has = (way: GatherWay): boolean => gathering.ways.includes(way)
  const groups = (control.job.payload.completions as CompletionGroup[] | undefined) ?? [...completionGroups]
  const address = readAddressSeed(gathering.seed)
  const starts = has('completions') ? typedStarts(gathering.seed, market.language, groups) : []
  planned =
    starts.length +
    (has('related') ? relatedFrom + 1 : 0) +
    (has('ads') ? Math.ceil(gathering.mostIdeas / 500) : 0) +
    (address ? 3 : 0) +
    2
  await control.step(0, planned)

  const askCompletions = async (): Promise<void> => {
    const queue = new PQueue({ concurrency: 8 })
    await Promise.all(
      starts.map(typed =>
        queue.add(async () => {
          if (found >= gathering.mostIdeas) {
            steps++
            return
          }
          await step(`completions:${typed}`, async () =>
            save(
              'completions',
              (await context.sources.complete(market, typed, control.signal)).map(phrase => ({ phrase })),
            ),
          )
        }),
      ),
    )
  }
  /** Seeds for ideas: the phrase itself, or what pages of an address are about. */
  let ideaSeeds = [gathering.seed]
  const readPages = async (): Promise<void> => {
    if (!address) return
    if (has('page') || has('ads'))
      await step('page:words', async () => {
        const pages = await pageTexts(context, address, control.signal)
        const phrases = pagePhrases(pages, market.language, mostPagePhrases).map(each => each.phrase)
        control.progress.ideaSeeds = phrases.slice(0, seedsOfPages)
        if (has('page'))
          await save(
            'page',
            phrases.map(phrase => ({ phrase })),
          )
      })
    ideaSeeds = (control.progress.ideaSeeds as string[] | undefined) ?? []
    if (has('rival')) {
      await step('rival:advertised', async () => {
        const { mostIdeas } = gathering
        const { rows } = await context.sources.advertised(address.domain, market, mostIdeas, null, control.signal)
        await save(
          'rival',
          rows.map(({ text: phrase }) => ({ phrase })),
        )
      })
      await step('rival:found', async () => {
        const words = await manyPhrasesFoundFor(context.pool, gathering.siteId, market.id, address.domain, address.page)
        await save(
          'rival',
          words.map(phrase => ({ phrase })),
        )
      })
    }
  }
  const askAds = async (): Promise<void> => {
    if (!ideaSeeds.length) return
    let page: string | null = (control.progress.adsPage as string | undefined) ?? null
    let got = Number(control.progress.adsGot ?? 0)
    while (has('ads') && got < gathering.mostIdeas && page !== 'end') {
      const at: string = page ?? 'first'
      const worked = await step(`ads:${at}`, async () => {
        const reply = await context.sources.ideas(market, ideaSeeds, page, control.signal)
        const ideas = reply.ideas.slice(0, gathering.mostIdeas - got)
        await save(
          'ads',
          ideas.map(figure => ({ phrase: figure.text, figure })),
        )
        got += ideas.length
        page = reply.next ?? 'end'
        Object.assign(control.progress, { adsPage: page, adsGot: got })
        const short = page === 'end' && got < gathering.mostIdeas
        await setShort(
          context.pool,
          gathering.siteId,
          gathering.id,
          short ? [{ what: 'ideas from the ads data', given: got, requested: gathering.mostIdeas }] : [],
        )
      })
      if (!worked) break
    }
  }
  await readPages()
  await Promise.all([askCompletions(), askAds()])

  if (has('related')) {
    const related = async (phrase: string): Promise<void> => {
      await step(`related:${phrase}`, async () =>
        save(
          'related',
          (await context.sources.search(market, phrase, 10, control.signal)).related.map(text => ({ phrase: text })),
        ),
      )
    }
    await related(gathering.seed)
    const top = await manyTopPhrases(context.pool, gathering.siteId, gathering.id, market.place, relatedFrom)
    const queue = new PQueue({ concurrency: 6 })
    await Promise.all(top.map(phrase => queue.add(() => related(phrase))))
  }

  const bare = await manyWithoutDemand(context.pool, gathering.siteId, gathering.id, market.place)
  const batches = Math.ceil(bare.length / figuresAtATime)
  planned = steps + batches
  for (let at = 0; at < bare.length; at += figuresAtATime) {
    const part = bare.slice(at, at + figuresAtATime)
    await step(`figures:${part[0]!.id}:${part.at(-1)!.id}:${part.length}`, async () => {
      const failure = await askDemand(context, gathering.siteId, market, part, control.signal)
      if (failure) throw failure
    })
  }
  await settleMatches(context, gathering.siteId, market)
  if (found > 2_000) prepareRows(context, gathering.siteId, market.id)
  await control.step(steps, steps)
  publish()
  return { found }
}
