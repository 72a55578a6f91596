import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs'
import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { join } from 'node:path'
import { setTimeout as sleep } from 'node:timers/promises'
import { readPage, startCrawl } from '@dew-trail/contract/crawl'
import { getJob } from '@dew-trail/contract/jobs'
import { createSite } from '@dew-trail/contract/sites'
import { decodeBuffer } from 'encoding-sniffer'
import { callServer } from './lib/client.ts'
import { installDebian } from './lib/install.mjs'
import { judgePage } from './lib/judge-page.ts'
import { startStack } from './lib/stack.ts'

/**
 * Crawls real pages: the HTML documentation of Debian's packages, some 4,700 pages in ten languages, served by host name on this machine.
 * Says how many of them were read, and how many agree with a standards parser's tree in title, headings, links and words.
 */
const webs: Record<string, { package: string; folder: string }> = {
  'postgres-docs.example': { package: 'postgresql-doc-15', folder: '/usr/share/doc/postgresql-doc-15/html' },
  'git-docs.example': { package: 'git-doc', folder: '/usr/share/doc/git-doc' },
  'python-docs.example': { package: 'python3.11-doc', folder: '/usr/share/doc/python3.11/html' },
  'apache-docs.example': { package: 'apache2-doc', folder: '/usr/share/doc/apache2-doc/manual' },
}
const missing = Object.values(webs).filter(({ folder }) => !existsSync(folder))
if (missing.length) {
  try {
    installDebian(
      missing.map(each => each.package),
      'The documentation to be crawled',
      '',
    )
  } catch (error) {
    console.error((error as Error).message)
    process.exit(1)
  }
}

/** Paths of all pages below a folder. */
function pagesIn(folder: string, path = ''): string[] {
  return readdirSync(join(folder, path)).flatMap(name => {
    const below = `${path}/${name}`
    const info = statSync(join(folder, below), { throwIfNoEntry: false })
    return info?.isDirectory() ? pagesIn(folder, below) : info?.isFile() && name.endsWith('.html') ? [below] : []
  })
}
const pages = new Map(Object.entries(webs).map(([host, { folder }]) => [host, new Set(pagesIn(folder))]))

/** Answers as a proxy for the four hosts: their pages, a list of them, and a sitemap that names all. */
const web = createServer((request, response) => {
  const url = new URL(request.url!, `http://${request.headers.host}`)
  const known = pages.get(url.hostname)
  const path = decodeURIComponent(url.pathname)
  const page = path.endsWith('/') ? `${path}index.html` : path
  if (!known) response.writeHead(502).end()
  else if (known.has(page)) {
    response.writeHead(200, { 'content-type': 'text/html' }).end(readFileSync(webs[url.hostname]!.folder + page))
  } else if (path === '/sitemap.xml') {
    const entries = [...known].map(each => `<url><loc>http://${url.hostname}${encodeURI(each)}</loc></url>`)
    response.writeHead(200, { 'content-type': 'application/xml' }).end(`<urlset>${entries.join('')}</urlset>`)
  } else response.writeHead(404, { 'content-type': 'text/plain' }).end('Not found')
})
await new Promise<void>(done => web.listen(0, '127.0.0.1', done))
const proxy = `http://127.0.0.1:${(web.address() as AddressInfo).port}`
const stack = await startStack({ size: 0.1, env: { CRAWL_PROXY: proxy, CRAWL_PER_HOST: '8' } })
let wrong = 0
try {
  const site = await callServer(stack.server, createSite, { domain: 'docs.example', name: 'Docs' })
  const startedMs = performance.now()
  const domains = Object.keys(webs)
  const { crawls } = await callServer(stack.server, startCrawl, {
    siteId: site.id,
    domains,
    mostPages: 10_000,
    mostDepth: 50,
  })
  for (const { jobId, domain } of crawls) {
    let job = await callServer(stack.server, getJob, { jobId })
    for (; job.endedAt === null; job = await callServer(stack.server, getJob, { jobId })) await sleep(500)
    const troubles = job.warnings.map(({ what, times }) => `${what} (${times})`).join('; ')
    console.log(
      `${domain}: ${job.state}, ${job.done} addresses${job.error ? `, ${job.error}` : ''}${troubles ? `, ${troubles}` : ''}`,
    )
    if (job.state !== 'done') wrong++
  }
  console.log(`crawled in ${((performance.now() - startedMs) / 1000).toFixed(0)} s`)
  const counts = { pages: 0, read: 0, title: 0, headings: 0, links: 0, text: 0 }
  for (const [host, known] of pages)
    for (const path of known) {
      counts.pages++
      const url = `http://${host}${encodeURI(path)}`
      const facts = await callServer(stack.server, readPage, { siteId: site.id, url })
      if (facts?.status !== 200) continue
      counts.read++
      const html = decodeBuffer(readFileSync(webs[host]!.folder + path))
      const judged = judgePage(html, url)
      if (facts.title === judged.title) counts.title++
      else say(url, 'title', facts.title, judged.title)
      if (JSON.stringify(facts.headings) === JSON.stringify(judged.headings)) counts.headings++
      else say(url, 'headings', facts.headings, judged.headings)
      // Links to one page with one anchor are kept once, and those of a page to itself not at all.
      const ours = new Set(facts.links.map(link => link.url))
      const theirs = new Set(judged.links.map(link => link.url).filter(each => each !== url))
      ours.delete(url)
      if (ours.size === theirs.size && [...theirs].every(each => ours.has(each))) counts.links++
      else
        say(
          url,
          'links',
          [...ours].filter(each => !theirs.has(each)),
          [...theirs].filter(each => !ours.has(each)),
        )
      // The page's own text is what is visible, in its order, less navigation and the like.
      if (isWithin((facts.text ?? '').split(/\s+/).filter(Boolean), judged.words)) counts.text++
      else say(url, 'text', (facts.text ?? '').slice(0, 200), judged.words.slice(0, 30).join(' '))
    }
  console.log(
    `pages ${counts.pages}, read ${counts.read}; agree in title ${counts.title}, headings ${counts.headings}, links ${counts.links}, text ${counts.text}`,
  )
  if (Object.values(counts).some(count => count !== counts.pages)) wrong++
} finally {
  await stack.close()
  web.close()
}
process.exit(wrong ? 1 : 0)

/** Whether words stand among others in the same order. */
function isWithin(words: readonly string[], all: readonly string[]): boolean {
  let at = 0
  for (const word of words) {
    while (at < all.length && all[at] !== word) at++
    if (at === all.length) return false
    at++
  }
  return true
}

function say(url: string, what: string, ours: unknown, judge: unknown): void {
  console.log(
    `${url} ${what}\n  crawler ${JSON.stringify(ours)?.slice(0, 300)}\n  judge   ${JSON.stringify(judge)?.slice(0, 300)}`,
  )
}
