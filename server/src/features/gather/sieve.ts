import type { Market } from '@dew-trail/contract/sites'
import { type AveragePeriod, averageSearches } from '@dew-trail/core/demand/average-searches'
import { normalForm } from '@dew-trail/core/words/normal-form'
import { type StoreConditions, type Unmet, unmetCondition, wantsFigures } from '@dew-trail/core/words/store-conditions'
import type { Context } from '../../context.ts'
import type { Idea } from '../../domain/keywords/save-ideas.ts'

const mostRemembered = 20_000

/** Lets through the ideas that meet a gathering's conditions and remembers what it dropped, so that nothing is counted twice. */
export class Sieve {
  readonly wantsFigures: boolean
  readonly #conditions: StoreConditions
  readonly #dropped: Map<string, Unmet>
  readonly #language: string
  readonly #period: AveragePeriod
  constructor(
    conditions: StoreConditions,
    { language, period }: { language: string; period: AveragePeriod },
    droppedBefore: ReadonlyArray<[string, Unmet]>,
  ) {
    this.#conditions = conditions
    this.#language = language
    this.#period = period
    this.wantsFigures = wantsFigures(conditions)
    this.#dropped = new Map(droppedBefore)
  }
  passes(idea: Idea): boolean {
    const phrase = normalForm(idea.phrase)
    const months = idea.figure?.monthly.map(month => month.searches) ?? []
    const unmet = unmetCondition(
      phrase,
      {
        searches: averageSearches(months, this.#period) ?? idea.figure?.average ?? null,
        cpc: idea.figure?.cpc_micros == null ? null : idea.figure.cpc_micros / 1e6,
      },
      this.#conditions,
      this.#language,
    )
    if (unmet && this.#dropped.size < mostRemembered) this.#dropped.set(phrase, unmet)
    return unmet === null
  }
  get dropped(): Array<[string, Unmet]> {
    return [...this.#dropped]
  }
  /** How many different keywords were dropped, by reason. */
  counts(): Record<string, number> {
    const counts: Record<string, number> = {}
    for (const reason of this.#dropped.values()) counts[reason] = (counts[reason] ?? 0) + 1
    return counts
  }
}

/** The same ideas with figures, asked for where they did not come along: thresholds apply before anything is stored. */
export async function withFigures(
  context: Context,
  market: Market,
  ideas: Idea[],
  signal: AbortSignal,
): Promise<Idea[]> {
  const bare = [...new Set(ideas.filter(idea => !idea.figure).map(idea => normalForm(idea.phrase)))].filter(Boolean)
  if (!bare.length) return ideas
  const figures = new Map((await context.sources.figures(market, bare, signal)).map(each => [each.text, each]))
  return ideas.map(idea => {
    const figure = idea.figure ?? figures.get(normalForm(idea.phrase))
    return figure ? { ...idea, figure } : idea
  })
}
