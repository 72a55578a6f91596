import { runImport, type Uploaded, uploadPath } from '@dew-trail/contract/imports'
import { createSite } from '@dew-trail/contract/sites'
import { startWeighing } from '@dew-trail/contract/weigh'
import { callServer, finishJob } from '../lib/client.ts'
import type { Entry } from '../lib/measures.ts'
import { startStack } from '../lib/stack.ts'

const count = 200

export const weighBench: Entry = {
  name: 'weigh.200',
  async run() {
    const stack = await startStack()
    try {
      const phrases = ((await (await fetch(`${stack.truth}/keywords?language=en&every=20`)).json()) as string[]).slice(
        0,
        count,
      )
      const site = await callServer(stack.server, createSite, { domain: 'kilnandtide.example', name: 'Kiln & Tide' })
      const marketId = site.markets[0]!.id
      const upload = await fetch(stack.server + uploadPath(site.id, 'keywords', 'rows.csv'), {
        method: 'POST',
        body: `keyword\n${phrases.join('\n')}\n`,
        headers: { 'content-type': 'text/csv' },
      })
      const { importId, suggested } = (await upload.json()) as Uploaded
      await finishJob(
        stack.server,
        (
          await callServer(stack.server, runImport, {
            siteId: site.id,
            importId,
            marketId,
            mapping: suggested,
            keep: true,
          })
        ).jobId,
      )
      const startedMs = performance.now()
      const { jobId } = await callServer(stack.server, startWeighing, { siteId: site.id, marketId })
      await finishJob(stack.server, jobId!)
      return [{ name: 'weigh.200', value: (performance.now() - startedMs) / 1000, unit: 's', better: 'lower' }]
    } finally {
      await stack.close()
    }
  },
}
