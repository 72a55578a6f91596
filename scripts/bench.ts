import { crawlBench } from './bench/crawl.ts'
import { firstRouteBench } from './bench/first-route.ts'
import { lighthouseBench } from './bench/lighthouse.ts'
import { gatherBench } from './bench/gather.ts'
import { graphBench } from './bench/graph.ts'
import { outOfCoreBench } from './bench/outofcore.ts'
import { hostileBench } from './bench/hostile.ts'
import { importBench } from './bench/import.ts'
import { largeSheetBench } from './bench/large-sheet.ts'
import { largeLinkProfileBench, linkProfileBench } from './bench/link-profile.ts'
import { linkRankingBench } from './bench/link-ranking.ts'
import { linksBench } from './bench/links.ts'
import { nightlyBench } from './bench/nightly.ts'
import { mixedBench } from './bench/mixed.ts'
import { placesBench } from './bench/places.ts'
import { planBench } from './bench/plan.ts'
import { resultsBench } from './bench/results.ts'
import { rivalsBench } from './bench/rivals.ts'
import { sheetBench } from './bench/sheet.ts'
import { startBench } from './bench/start.ts'
import { largeStandinBench, standinBench } from './bench/standin.ts'
import { themePreviewBench, themesBench } from './bench/themes.ts'
import { trackBench } from './bench/track.ts'
import { voicesBench } from './bench/voices.ts'
import { weighBench } from './bench/weigh.ts'
import { readArguments, runEntries } from './lib/measures.ts'

/** Speed and memory, each entry with everything it needs beside a running Dew Trail. */
process.exit(
  await runEntries(
    [
      startBench,
      firstRouteBench,
      lighthouseBench,
      gatherBench,
      sheetBench,
      largeSheetBench,
      importBench,
      hostileBench,
      weighBench,
      standinBench,
      largeStandinBench,
      graphBench,
      outOfCoreBench,
      crawlBench,
      linksBench,
      linkProfileBench,
      largeLinkProfileBench,
      linkRankingBench,
      nightlyBench,
      resultsBench,
      rivalsBench,
      themesBench,
      themePreviewBench,
      placesBench,
      trackBench,
      voicesBench,
      planBench,
      mixedBench,
    ],
    readArguments(process.argv.slice(2)),
  ),
)
