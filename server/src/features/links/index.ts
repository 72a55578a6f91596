import type { Feature } from '../../feature.ts'
import { importGraphJob } from './imports/import-graph-job.ts'
import { takeBackLinks } from './imports/take-back-links.ts'
import { importPopularityJob, takeBackPopularity } from './imports/import-popularity-job.ts'
import { importLinksJob } from './imports/import-links-job.ts'
import { manySites } from '../../domain/sites/queries.ts'
import { askForRank } from '../../domain/graph/ask-for-rank.ts'
import { feedsJob, readLinksJob } from './feeds-job.ts'
import { rankJob } from '../../domain/graph/rank-job.ts'
import { noteBursts } from './note-bursts.ts'
import { undoVet } from './undo.ts'
import { verifyAllPlaced } from './lists/verify-placed.ts'
import { mountLinks } from './routes.ts'
import {
  mountLinkLists,
  undoAddProspects,
  undoChangeProspect,
  undoClearSites,
  undoDisavow,
  undoRemoveProspects,
} from './lists/routes.ts'
import { linkFigures, linkSections } from './report-sections.ts'

export const linksFeature: Feature = {
  mount: (app, context) => {
    mountLinks(app, context)
    mountLinkLists(app, context)
  },
  jobs: {
    feeds: feedsJob,
    readLinks: readLinksJob,
    rank: async (context, control) => {
      const done = await rankJob(context, control)
      await verifyAllPlaced(context)
      return done
    },
    importGraph: importGraphJob,
  },
  undo: {
    vet: undoVet,
    disavow: undoDisavow,
    clearSites: undoClearSites,
    addProspects: undoAddProspects,
    changeProspect: undoChangeProspect,
    removeProspects: undoRemoveProspects,
  },
  importers: { links: importLinksJob, popularity: importPopularityJob },
  takeBacks: { links: takeBackLinks, graph: takeBackLinks, popularity: takeBackPopularity },
  nightly: {
    'link-bursts': async context => void (await noteBursts(context)),
    'nightly-rank': async context => {
      if ((await manySites(context.pool)).length) await askForRank(context)
    },
  },
  sections: linkSections,
  figures: linkFigures,
}
