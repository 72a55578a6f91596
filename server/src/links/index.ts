import type { Feature } from '../feature.ts'
import { manySites } from '../sites/queries.ts'
import { askForRank } from './ask-for-rank.ts'
import { feedsJob } from './feeds-job.ts'
import { rankJob } from './rank-job.ts'
import { mountLinks } from './routes.ts'

export const linksFeature: Feature = {
  mount: mountLinks,
  jobs: { feeds: feedsJob, rank: rankJob },
  nightly: {
    'nightly-rank': async context => {
      const [first] = await manySites(context.pool)
      if (first) await askForRank(context, first.id)
    },
  },
}
