import { get } from 'node:http'
import { extractPage } from '@dew-trail/core/links/extract-page'
import { startCrawl } from '@dew-trail/contract/crawl'
import { createSite } from '@dew-trail/contract/sites'
import { Parser } from 'htmlparser2'
import { callServer, finishJob } from '../lib/client.ts'
import type { Entry, Measure } from '../lib/measures.ts'
import { type Stack, startStack } from '../lib/stack.ts'

const sites = ['kilnandtide.example', 'clayharbour.example', 'thewheelhouse.example', 'glazeworks.example']
const pageBytes = 49_000

const pageOf = (stack: Stack, url: string): Promise<string> =>
  new Promise((resolve, reject) => {
    const { hostname, port } = new URL(stack.source)
    get({ hostname, port, path: url, headers: { host: new URL(url).host } }, async response => {
      let text = ''
      for await (const chunk of response) text += chunk
      resolve(text)
    }).on('error', reject)
  })

/** Pages of the stand-in, each filled up to 49 kB with its own markup, as pages in life are. */
async function largePages(stack: Stack): Promise<string[]> {
  const list = (await (await fetch(`${stack.truth}/pages?every=40`)).json()) as Array<{
    url: string
    gone: string | null
  }>
  const pages: string[] = []
  for (const { url } of list.filter(each => !each.gone).slice(0, 60)) {
    const html = await pageOf(stack, url)
    const body = /<body>([\s\S]*)<\/body>/.exec(html)?.[1]
    if (!body) continue
    let filled = html
    while (filled.length < pageBytes) filled = filled.replace('</body>', () => `${body}</body>`)
    pages.push(filled)
  }
  return pages
}

/** The parser alone, with a callback for everything the extraction listens to. */
function parseOnly(html: string): number {
  let seen = 0
  const parser = new Parser({
    onopentag: () => seen++,
    onclosetag: () => seen++,
    ontext: () => seen++,
  })
  parser.write(html)
  parser.end()
  return seen
}

function perSecond(pages: string[], work: (html: string) => unknown): number {
  const startedMs = performance.now()
  let done = 0
  while (performance.now() - startedMs < 2_500) {
    for (const page of pages) work(page)
    done += pages.length
  }
  return done / ((performance.now() - startedMs) / 1000)
}

export const crawlBench: Entry = {
  name: 'crawl',
  gives: ['crawl.extract', 'crawl.pages'],
  async run() {
    const stack = await startStack({})
    try {
      const pages = await largePages(stack)
      const site = await callServer(stack.server, createSite, { domain: sites[0]!, name: 'Kiln & Tide' })
      const startedMs = performance.now()
      const { crawls } = await callServer(stack.server, startCrawl, { siteId: site.id, domains: sites, mostPages: 250 })
      let fetched = 0
      for (const { jobId } of crawls) fetched += Number((await finishJob(stack.server, jobId)).result?.fetched)
      const seconds = (performance.now() - startedMs) / 1000
      // In turn, so that both meet the same moods of the machine.
      const rounds = [0, 1, 2].map(() => ({
        parse: perSecond(pages, parseOnly),
        extract: perSecond(pages, html => extractPage(html, 'http://clay.example/')),
      }))
      const best = rounds.sort((a, b) => b.extract / b.parse - a.extract / a.parse)[1]!
      return [
        {
          name: 'crawl.extract',
          value: best.extract,
          unit: 'pages of 49 kB a second',
          better: 'higher',
          reference: { what: 'htmlparser2 streaming alone', value: best.parse },
        },
        { name: 'crawl.pages', value: fetched / seconds, unit: 'pages a second, end to end', better: 'higher' },
      ] satisfies Measure[]
    } finally {
      await stack.close()
    }
  },
}
