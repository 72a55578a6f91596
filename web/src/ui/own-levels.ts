import type { Market, Site, SiteLevels } from '@dew-trail/contract/sites'
import { sitesForScale } from '@dew-trail/core/results/level-scale'
import { formatDay, formatWhole } from './format.ts'

/** Level and bounds of the site in a market, on the market's scale; null for a market that has just been added. */
export const ownLevelsIn = (site: Pick<Site, 'levels'>, market: Pick<Market, 'id'>): SiteLevels | null =>
  site.levels.find(each => each.marketId === market.id) ?? null

/** Where a market's scale comes from, as the end of a sentence. */
export const scaleWords = (scale: { sites: number | null; takenOn: string | null; deep: boolean }): string =>
  scale.takenOn === null || scale.sites === null
    ? 'the usual spread of sites, until those of this market are known'
    : `${formatWhole(scale.sites)} sites ${scale.deep ? 'of this market' : 'on first pages of this market, taken as its upper three quarters until strengths are learnt'}${scale.sites < sitesForScale ? ', filled up by the usual spread around them' : ''}, as they were on ${formatDay(scale.takenOn)}`

/** What the level and the two bounds of the own site mean and rest on. */
export const levelWords = (
  { level, scaleSites, scaleTakenOn, scaleDeep }: SiteLevels,
  { linkingSites, linksAskedOn }: Pick<Site, 'linkingSites' | 'linksAskedOn'>,
): string =>
  [
    level === null
      ? 'No source of links has answered for your site yet, so it is judged as a site without links: all told of it is at least so.'
      : linkingSites === null
        ? `No link to your site was known on ${formatDay(linksAskedOn!)}, so it stands at the bottom.`
        : `Your level: of 100 sites of this market, ${Math.round(level)} have fewer sites that link to them (yours has ${formatWhole(linkingSites)}).`,
    'Difficulty is told on the same scale: of 100 sites, how many would not have an even chance of the first page with a new, well-fitting page.',
    'Up to the comfortable one your chance is 80% or more, up to the stretch 40%.',
    `The scale rests on ${scaleWords({ sites: scaleSites, takenOn: scaleTakenOn, deep: scaleDeep })}.`,
  ].join(' ')
