import { readArguments, runEntries } from './lib/measures.ts'
import { chancesScore } from './score/chances.ts'
import { gapOrderScore } from './score/gap-order.ts'
import { crawlScore } from './score/crawl.ts'
import { difficultyScore } from './score/difficulty.ts'
import { keywordsScore } from './score/keywords.ts'
import { linkListsScore } from './score/link-lists.ts'
import { linksScore } from './score/links.ts'
import { placesScore } from './score/places.ts'
import { planScore } from './score/plan.ts'
import { rivalsScore } from './score/rivals.ts'
import { themesScore } from './score/themes.ts'
import { standinScore } from './score/standin.ts'
import { trackScore } from './score/track.ts'

/** Quality of estimates against the stand-in's truth, and how believable that truth is, for any seed. */
const options = readArguments(process.argv.slice(2))
process.exit(
  await runEntries(
    [
      standinScore(options.seed),
      keywordsScore(options.seed),
      difficultyScore(options.seed),
      chancesScore(options.seed),
      linksScore(options.seed),
      linkListsScore(options.seed),
      crawlScore(options.seed),
      rivalsScore(options.seed),
      gapOrderScore(options.seed),
      themesScore(options.seed),
      planScore(options.seed),
      placesScore(options.seed),
      trackScore(options.seed),
    ],
    options,
  ),
)
