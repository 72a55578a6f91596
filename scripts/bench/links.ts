import { createWriteStream } from 'node:fs'
import { once } from 'node:events'
import { join } from 'node:path'
import { createSite } from '@dew-trail/contract/sites'
import { callServer, importLargeFile } from '../lib/client.ts'
import type { Entry } from '../lib/measures.ts'
import { startStack } from '../lib/stack.ts'

const links = 2_000_000
const linkingSites = 140_000

/** Made-up links to one large site and some others: many sites give a few, few give thousands. */
async function writeLinks(file: string): Promise<void> {
  const out = createWriteStream(file)
  out.write('source,target,anchor,rel,first seen,last seen\n')
  let state = 1
  const draw = (): number => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0
    return state / 2 ** 32
  }
  for (let i = 0; i < links; i++) {
    const site = Math.floor(draw() ** 3 * linkingSites)
    const page = Math.floor(draw() * 40)
    const target =
      draw() < 0.6
        ? `https://large.example/p/${Math.floor(draw() ** 2 * 20_000)}`
        : `https://other-${Math.floor(draw() * 400)}.example/`
    const month = 1 + Math.floor(draw() * 12)
    const line = `https://linking-${site}.example/page/${page}-of-many,${target},words of anchor ${Math.floor(draw() ** 2 * 30_000)},${draw() < 0.2 ? 'nofollow' : ''},2025-${String(month).padStart(2, '0')}-03,2026-10-01\n`
    if (!out.write(line)) await once(out, 'drain')
  }
  out.end()
  await once(out, 'finish')
}

/** A list of two million links from the upload's end to sums that are ready to read. */
export const linksBench: Entry = {
  name: 'links.load.2m',
  async run() {
    const stack = await startStack({ env: { IMPORT_MAX_BYTES: '2000000000' } })
    try {
      const site = await callServer(stack.server, createSite, { domain: 'large.example', name: 'Large' })
      const file = join(stack.folder, 'links.csv')
      await writeLinks(file)
      const { job, seconds } = await importLargeFile(stack.server, site, 'links', file)
      if (Number(job.result?.saved) !== links) throw new Error(`only ${job.result?.saved} links were saved`)
      return [
        { name: 'links.load.2m', value: seconds, unit: `s, ${Math.round(links / seconds)} links/s`, better: 'lower' },
      ]
    } finally {
      await stack.close()
    }
  },
}
