import type { Feature } from '../../feature.ts'
import { settleAllMatches } from '../../domain/keywords/match-totals.ts'
import { keywordsTable } from '../../domain/keyword-rows/keyword-table.ts'
import { importKeywordsJob } from './imports/import-keywords-job.ts'
import { figuresJob } from '../../domain/positions/figures-job.ts'
import { namesJob } from './domain-names.ts'
import { gatherJob } from './job.ts'
import { undoKeep, undoPrune } from './undo.ts'
import { countsJob } from './result-counts.ts'
import { mountGather } from './routes.ts'

export const gatherFeature: Feature = {
  mount: mountGather,
  jobs: { gather: gatherJob, figures: figuresJob, names: namesJob, counts: countsJob },
  tables: { keywords: keywordsTable },
  undo: { keep: undoKeep, prune: undoPrune },
  importers: { keywords: importKeywordsJob },
  nightly: { matches: settleAllMatches },
}
