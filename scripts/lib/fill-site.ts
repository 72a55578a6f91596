import { runImport, type Uploaded, uploadPath } from '@dew-trail/contract/imports'
import { createSite } from '@dew-trail/contract/sites'
import { callServer, finishJob } from './client.ts'
import type { Stack } from './stack.ts'

const heads =
  'kiln wheel clay glaze home small electric beginner kit price best stoneware raku studio mug vase bowl plate'.split(
    ' ',
  )
const tails = ' s er ing less ful work house craft stone ware field ton ley ford more well mere'.split(' ')
const fronts = ['', 'un', 're', 'fore', 'over', 'mid', 'out', 'sub']
/** Nearly three thousand words, of which a few are in most phrases, as in life. */
const words = fronts.flatMap(front => heads.flatMap(head => tails.map(tail => front + head + tail)))

/** Imports made-up keywords into a new site and gives its id. */
export async function fillSite(stack: Stack, domain: string, rows: number): Promise<number> {
  const site = await callServer(stack.server, createSite, { domain, name: domain })
  let seed = 9
  const random = (below: number): number => {
    seed = (seed * 48271) % 2147483647
    return seed % below
  }
  const word = (): string => words[random(3) ? random(60) : random(words.length)]!
  const phrases = new Set<string>()
  while (phrases.size < rows) phrases.add(Array.from({ length: 3 + random(3) }, word).join(' '))
  const lines = [...phrases].map(phrase => {
    return `${phrase},${random(9) ? Math.round(10 * 1.22 ** random(38)) : ''},${random(400) / 100},${random(100) / 100}`
  })
  const upload = await fetch(stack.server + uploadPath(site.id, 'keywords', 'rows.csv'), {
    method: 'POST',
    body: `keyword,searches,cpc,competition\n${lines.join('\n')}\n`,
    headers: { 'content-type': 'text/csv' },
  })
  const { importId, suggested } = (await upload.json()) as Uploaded
  const { jobId } = await callServer(stack.server, runImport, {
    siteId: site.id,
    importId,
    marketId: site.markets[0]!.id,
    mapping: suggested,
  })
  await finishJob(stack.server, jobId)
  return site.id
}
