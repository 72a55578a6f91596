import type { ViewState } from '@dew-trail/contract/views'

const plain = ['phrase', 'searches', 'months', 'cpc', 'competition', 'trend', 'difficulty', 'position', 'cameFrom']

/** Views of keyword tables that come with the program. */
export const shippedViews: Array<{ name: string; state: ViewState }> = [
  { name: 'As it came', state: { where: [], sort: '-searches', columns: plain, folded: false } },
  {
    name: 'Worth weighing',
    state: {
      where: ['searches:from:100', 'trend:not:falling', 'brand:is:none', 'difficulty:unknown'],
      sort: '-searches',
      columns: ['phrase', 'searches', 'months', 'trend', 'season', 'cpc', 'competition', 'kind', 'cameFrom'],
      folded: true,
    },
  },
  {
    name: 'Most to win',
    state: {
      where: ['brand:is:none'],
      sort: '-worthFirst',
      columns: [
        'phrase',
        'searches',
        'trend',
        'cpc',
        'visitsFirst',
        'worthFirst',
        'competition',
        'difficulty',
        'cameFrom',
      ],
      folded: true,
    },
  },
  {
    name: 'Within my reach',
    state: {
      where: ['difficulty:within:stretch', 'newChance:from:0.4', 'searches:from:30'],
      sort: '-newWorth',
      columns: [
        'phrase',
        'searches',
        'trend',
        'cpc',
        'difficulty',
        'terrain',
        'newChance',
        'newWorth',
        'chance',
        'position',
      ],
      folded: true,
    },
  },
  {
    name: 'Said in this order',
    state: {
      where: ['orderShare:from:0.1'],
      sort: '-matchOrder',
      columns: ['phrase', 'searches', 'matchExact', 'matchOrder', 'matchAny', 'orderShare', 'cpc', 'difficulty'],
      folded: false,
    },
  },
  {
    name: 'Hidden demand',
    state: {
      where: ['hidden:yes'],
      sort: '-logSearches',
      columns: ['phrase', 'searches', 'hidden', 'logImpressions', 'logClicks', 'logPosition', 'kind', 'difficulty'],
      folded: false,
    },
  },
]
