import { writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { runImport, type Uploaded, uploadPath } from '@dew-trail/contract/imports'
import { createSite } from '@dew-trail/contract/sites'
import { callServer, finishJob } from '../lib/client.ts'
import { run } from '../lib/install.mjs'
import type { Entry } from '../lib/measures.ts'
import { startStack } from '../lib/stack.ts'

const rows = 100_000
const words = [
  'kiln',
  'wheel',
  'clay',
  'glaze',
  'home',
  'small',
  'electric',
  'beginner',
  'kit',
  'price',
  'best',
  'stoneware',
  'raku',
  'studio',
]

export const importBench: Entry = {
  name: 'import.keywords.100k',
  async run() {
    const stack = await startStack({ size: 0.1 })
    try {
      const lines = Array.from(
        { length: rows },
        (_, i) =>
          `${words[i % 14]} ${words[(i * 7) % 13]} ${words[(i * 5) % 11]} ${i},${(i * 37) % 9_000},${((i * 13) % 400) / 100},${(i % 100) / 100}`,
      )
      const csv = `${lines.join('\n')}\n`
      const site = await callServer(stack.server, createSite, { domain: 'kilnandtide.example', name: 'Kiln & Tide' })
      const upload = await fetch(stack.server + uploadPath(site.id, 'keywords', 'rows.csv'), {
        method: 'POST',
        body: `keyword,searches,cpc,competition\n${csv}`,
        headers: { 'content-type': 'text/csv' },
      })
      const { importId, suggested } = (await upload.json()) as Uploaded
      const startedMs = performance.now()
      const { jobId } = await callServer(stack.server, runImport, {
        siteId: site.id,
        importId,
        marketId: site.markets[0]!.id,
        mapping: suggested,
      })
      const job = await finishJob(stack.server, jobId)
      const seconds = (performance.now() - startedMs) / 1000
      if (job.result?.total !== rows) throw new Error(`${String(job.result?.total)} of ${rows} rows arrived`)
      const file = join(stack.folder, 'rows.csv')
      writeFileSync(file, csv)
      const psql = (sql: string): string =>
        run(join(stack.postgres.binDir, 'psql'), ['-qAt', '-d', stack.databaseUrl, '-c', sql])
      psql('create table plain_copy (phrase text, searches real, cpc real, competition real)')
      const copyMs = performance.now()
      psql(`\\copy plain_copy from '${file}' csv`)
      return [
        {
          name: 'import.keywords.100k',
          value: rows / seconds,
          unit: 'rows/s, file to merged keywords',
          better: 'higher',
          reference: { what: 'psql \\copy into a plain table', value: rows / ((performance.now() - copyMs) / 1000) },
        },
      ]
    } finally {
      await stack.close()
    }
  },
}
