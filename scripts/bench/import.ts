import { createWriteStream } from 'node:fs'
import { join } from 'node:path'
import { once } from 'node:events'
import { keywordRowsPath } from '@dew-trail/contract/gather'
import { createSite, type Site } from '@dew-trail/contract/sites'
import { callServer, importLargeFile } from '../lib/client.ts'
import { run } from '../lib/install.mjs'
import type { Entry, Measure } from '../lib/measures.ts'
import { type Stack, startStack } from '../lib/stack.ts'

const words = 'kiln wheel clay glaze home small electric beginner kit price best stoneware raku studio'.split(' ')

/** A file of different keywords with figures and more columns than are imported, 76 bytes a row; without the header for psql. */
async function writeRows(file: string, rows: number, header: boolean): Promise<void> {
  const out = createWriteStream(file)
  if (header) out.write('keyword,group,searches,cpc,competition,page\n')
  for (let i = 0; i < rows; i++) {
    const [first, second, third] = [words[i % 14], words[(i * 7) % 13], words[(i * 5) % 11]]
    const page = `https://studio.example/${second}/${third}`
    const text = `${first} ${second} ${third} ${i},${first},${(i * 37) % 9_000},${((i * 13) % 400) / 100},${(i % 100) / 100},${page}\n`
    if (!out.write(text)) await once(out, 'drain')
  }
  out.end()
  await once(out, 'finish')
}

type Result = { total: number; seconds: { staging: number; merging: number } }

/** Imports a file into a site; seconds of the whole job and of its parts. */
async function importFile(stack: Stack, site: Site, file: string): Promise<Result & { whole: number }> {
  const { job, seconds } = await importLargeFile(stack.server, site, 'keywords', file)
  return { ...(job.result as Result), whole: seconds }
}

/** Rows a second of psql's own \copy of the same rows into a bare table. */
async function plainCopy(stack: Stack, rows: number): Promise<number> {
  const file = join(stack.folder, 'plain.csv')
  await writeRows(file, rows, false)
  const psql = (sql: string): string =>
    run(join(stack.postgres.binDir, 'psql'), ['-qAt', '-d', stack.databaseUrl, '-c', sql])
  psql('create table plain_copy (phrase text, topic text, searches real, cpc real, competition real, page text)')
  const startedMs = performance.now()
  psql(`\\copy plain_copy from '${file}' csv`)
  const seconds = (performance.now() - startedMs) / 1000
  psql('drop table plain_copy')
  return rows / seconds
}

export const importBench: Entry = {
  name: 'import',
  gives: ['import.keywords.100k', 'import.keywords.1m', 'import.merge.1m', 'import.again.1m'],
  async run() {
    const stack = await startStack({ size: 0.1, env: { IMPORT_MAX_BYTES: '900000000' } })
    try {
      const site = async (domain: string): Promise<Site> =>
        callServer(stack.server, createSite, { domain, name: domain })
      const load = async (owner: Site, rows: number): Promise<Result & { whole: number }> => {
        const file = join(stack.folder, `rows-${rows}.csv`)
        await writeRows(file, rows, true)
        const result = await importFile(stack, owner, file)
        if (result.total !== rows) throw new Error(`${result.total} of ${rows} rows arrived`)
        return result
      }
      /** Waits for the rows to be written down for opening, which goes on beside other work after an import. */
      const settle = async (owner: Site): Promise<void> => {
        const path = keywordRowsPath(owner.id, owner.markets[0]!.id, 0)
        for await (const _ of (await fetch(stack.server + path)).body!);
      }
      const first = await site('hundred.example')
      const small = await load(first, 100_000)
      await settle(first)
      const owner = await site('million.example')
      const large = await load(owner, 1_000_000)
      await settle(owner)
      const again = await load(owner, 1_000_000)
      const reference = { what: 'psql \\copy into a bare table', value: await plainCopy(stack, 1_000_000) }
      const measure = (name: string, value: number, unit: string): Measure => ({
        name,
        value,
        unit,
        better: 'higher',
        reference,
      })
      return [
        measure('import.keywords.100k', 100_000 / small.whole, 'rows/s, file to merged keywords'),
        measure('import.keywords.1m', 1_000_000 / large.seconds.staging, 'rows/s, file to checked rows in staging'),
        measure('import.merge.1m', 1_000_000 / large.seconds.merging, 'rows/s, staging to new keywords and figures'),
        measure('import.again.1m', 1_000_000 / again.whole, 'rows/s, the same file a second time'),
      ]
    } finally {
      await stack.close()
    }
  },
}
