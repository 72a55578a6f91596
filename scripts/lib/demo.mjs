import { setTimeout as sleep } from 'node:timers/promises'
import { ClearError, say } from './say.mjs'

const domain = 'kilnandtide.example'
export const rivals = [
  'clayharbour.example',
  'thewheelhouse.example',
  'glazeworks.example',
  'potteryparcel.example',
  'mudandfire.example',
]
const historyDays = 400
const trackedKeywords = 140
const lastPage = 'Pottery classes near you'
const town = 'port-hallow'

/** Loads the demo site through the program's own HTTP interface. Each step looks first, so a load that was cut off goes on. @param {{ server: string, source: string, key: string, today: string, startKey?: string }} where `startKey`: lets the start in where people sign in */
export async function loadDemo({ server, source, key, today, startKey }) {
  /** @type {Record<string, string>} */
  const entry = startKey ? { authorization: `Bearer ${startKey}` } : {}
  /** @param {string} path @param {unknown} [body] @param {string} [method] */
  const call = async (path, body, method = body === undefined ? 'GET' : 'POST') => {
    const response = await fetch(`${server}${path}`, {
      method,
      headers: { ...entry, ...(body === undefined ? {} : { 'content-type': 'application/json' }) },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    })
    const answer = await response.json()
    if (!response.ok) throw new ClearError(`The demo could not be loaded: ${answer.error?.message ?? response.status}`)
    return answer
  }
  /** @param {number} jobId */
  const finish = async jobId => {
    for (;;) {
      const job = await call(`/api/jobs/${jobId}`)
      if (job.state === 'done') return job
      if (['failed', 'cancelled'].includes(job.state))
        throw new ClearError(`The demo could not be loaded: ${job.title}: ${job.error ?? job.state}`)
      await sleep(100)
    }
  }
  const sites = await call('/api/sites')
  const site =
    sites.find((/** @type {{ domain: string }} */ each) => each.domain === domain) ??
    (await call('/api/sites', { domain, name: 'Kiln & Tide', place: 'tarrow', language: 'en' }))
  const base = `/api/sites/${site.id}`
  const marketId = site.markets[0].id
  const trail = await call(`${base}/trail`)
  if (trail.tracked === 0) {
    say(`Loading ${historyDays} days of positions for ${trackedKeywords} keywords`)
    const from = new Date(Date.parse(today) - historyDays * 86_400_000).toISOString().slice(0, 10)
    const to = new Date(Date.parse(today) - 86_400_000).toISOString().slice(0, 10)
    const history = await fetch(
      `${source}/history/positions.csv?site=${domain}&keywords=${trackedKeywords}&from=${from}&to=${to}`,
      { headers: { authorization: `Bearer ${key}` } },
    )
    const upload = await fetch(`${server}${base}/imports?kind=positions&fileName=positions.csv`, {
      method: 'POST',
      body: history.body,
      ...{ duplex: 'half' },
      headers: { ...entry, 'content-type': 'text/csv' },
    })
    const uploaded = await upload.json()
    if (!upload.ok) throw new ClearError(`The demo could not be loaded: ${uploaded.error?.message}`)
    const { jobId } = await call(`${base}/imports/${uploaded.importId}/run`, { marketId, mapping: uploaded.suggested })
    await finish(jobId)
    const figures = (await call(`${base}/jobs`)).find((/** @type {{ kind: string }} */ job) => job.kind === 'figures')
    if (figures) await finish(figures.id)
    const diary = await fetch(`${source}/history/diary.json?keywords=${trackedKeywords}&from=${from}`, {
      headers: { authorization: `Bearer ${key}` },
    })
    const idOf = new Map(
      (await keywordRows(`${server}${base}/keywords?marketId=${marketId}`, entry)).map(row => [row.phrase, row.id]),
    )
    for (const { date, text, keywords } of await diary.json()) {
      const keywordIds = keywords.flatMap((/** @type {string} */ phrase) => idOf.get(phrase) ?? [])
      await call(`${base}/notes`, { day: date, text, ...(keywordIds.length ? { keywordIds } : {}) })
    }
  }
  const brands = await call(`${base}/brands`)
  if (brands.length === 1)
    await call(
      `${base}/brands`,
      {
        brands: [
          ['clayharbour.example', 'clay harbour', 'clayharbour'],
          ['thewheelhouse.example', 'the wheelhouse', 'wheelhouse'],
          ['glazeworks.example', 'glazeworks'],
          ['potteryparcel.example', 'pottery parcel'],
          ['mudandfire.example', 'mud and fire'],
        ].map(([owner, ...words]) => ({ owner, own: false, words })),
      },
      'PUT',
    )
  const day = (/** @type {number} */ days) => new Date(Date.parse(today) + days * 86_400_000).toISOString().slice(0, 10)
  const { grids } = await call(`${base}/places/grids`)
  let gridId = grids[0]?.id
  if (!gridId) {
    const { businesses } = await call(`${base}/places/towns/${town}`)
    const studio = businesses.find((/** @type {{ own: boolean }} */ each) => each.own)
    gridId = (
      await call(`${base}/places/grids`, {
        town,
        engine: 'lantern',
        language: 'en',
        keywords: ['pottery class', 'pottery workshop'],
        businesses: [studio.id],
        latitude: studio.latitude,
        longitude: studio.longitude,
        size: 7,
        spacing: 600,
      })
    ).gridId
    // In the background; the run of today follows when the rest is loaded.
    await call(`${base}/places/grids/${gridId}/runs`, { day: day(-28) })
  }
  const log = await call(`${base}/log`)
  const property = log.available[0]?.property
  // It takes half a minute, so it goes on in the background.
  if (property && !log.loaded.length) await call(`${base}/log`, { marketId, property, weeks: 13 })
  const gatherings = await call(`${base}/gatherings`)
  const seeds = ['home kiln', 'air dry clay', 'pottery glaze'].filter(
    seed => !gatherings.some((/** @type {{ seed: string, state: string }} */ each) => each.seed === seed),
  )
  if (seeds.length) {
    say('Gathering around three seeds')
    const { jobs } = await call(`${base}/gatherings`, { marketId, seeds, mostIdeas: 600 })
    for (const { jobId } of jobs) await finish(jobId)
  }
  const planned = await call(`${base}/pages?marketId=${marketId}&today=${today}`)
  const isPlanned = (/** @type {string} */ title) =>
    planned.some((/** @type {{ title: string }} */ page) => page.title === title)
  if (!isPlanned(lastPage)) {
    say('Weighing and planning a few keywords')
    const rows = await keywordRows(`${server}${base}/keywords?marketId=${marketId}`, entry)
    const inGatherings = rows
      .filter(row => row.gatherings && row.searches !== null && row.searches > 50)
      .sort((a, b) => b.searches - a.searches)
    const kept = inGatherings.filter((_, i) => i % 3 === 0).slice(0, 60)
    const tracked = rows.filter(row => row.tracked)
    await call(`${base}/keep`, { keywordIds: [...kept, ...tracked].map(row => row.id), kept: true })
    const { jobId } = await call(`${base}/weighings`, {
      marketId,
      keywordIds: [...kept, ...tracked].map(row => row.id),
    })
    if (jobId) await finish(jobId)
    const about = (/** @type {string} */ words, /** @type {number} */ most) =>
      [...kept, ...tracked]
        .sort((a, b) => b.searches - a.searches)
        .filter((row, i, all) => all.findIndex(each => each.id === row.id) === i)
        .filter(row => words.split(' ').every(word => row.phrase.includes(word)))
        .slice(0, most)
        .map(row => row.id)
    const pages = [
      {
        title: 'Choosing a home kiln',
        address: '/guides/home-kiln',
        deadline: day(12),
        keywordIds: about('kiln', 8),
        more: { state: 'writing', owner: 'Mara', effort: 3 },
        brief: {
          title: 'Choosing a home kiln: size, power and what it costs to run',
          description:
            'Which home kiln fits your room, your power supply and your work: sizes, temperatures, running costs, and what to ask before you buy.',
          headings: ['What size of kiln do I need?', 'Which power supply does it take?', 'What does a firing cost?'],
          terms: ['kiln shelf', 'firing'],
          wordsFrom: 900,
          wordsTo: 1_400,
          links: [],
          remarks: 'Photographs of the three kilns in our own studio.',
        },
      },
      {
        title: 'Air dry clay, from bag to shelf',
        address: '/guides/air-dry-clay',
        deadline: day(-3),
        keywordIds: about('clay', 9),
        more: { state: 'idea', owner: 'Jonas', effort: 2 },
      },
      {
        title: 'Starter kits compared',
        address: '/guides/starter-kits',
        deadline: day(-1),
        keywordIds: about('kit', 4),
        more: { state: 'published', owner: 'Mara' },
      },
      {
        title: 'Glaze shop',
        address: '/shop/glaze',
        kind: 'keep',
        keywordIds: about('glaze', 7),
        more: {},
      },
      {
        title: 'A first wheel',
        address: '/guides/first-wheel',
        deadline: day(40),
        keywordIds: about('wheel', 6),
        more: { state: 'idea', owner: 'Jonas', effort: 4 },
      },
      {
        title: lastPage,
        address: '/classes',
        deadline: day(26),
        keywordIds: about('class', 6),
        more: { state: 'idea', effort: 1.5 },
      },
    ]
    for (const { more, brief, ...page } of pages.filter(each => !isPlanned(each.title))) {
      const { id } = await call(`${base}/pages`, page)
      if (Object.keys(more).length) await call(`${base}/pages/${id}`, more, 'PATCH')
      if (brief) await call(`${base}/pages/${id}/brief`, { version: 0, text: brief }, 'PUT')
    }
  }
  const [grid] = (await call(`${base}/places/grids`)).grids
  if (grid.runs.length === 1) {
    const [past] = grid.runs
    if (past.jobId) await finish(past.jobId)
    await call(`${base}/places/grids/${grid.id}/runs`, {})
  }
  const groupings = await call(`${base}/groupings?marketId=${marketId}`)
  // In the background: results of kept keywords are known by now, so that it takes a second.
  if (!groupings.length) await call(`${base}/groupings`, { marketId, from: { kind: 'kept' } })
  const crawls = await call(`${base}/crawls`)
  if (!crawls.length) {
    say('Crawling the site and its rivals in the background')
    await call(`${base}/crawls`, { domains: [domain, ...rivals], mostPages: 400 })
    await call(`${base}/links/feeds`, {})
    const marketId = site.markets[0].id
    // Those that stand above it most often, which are what Rivals begins with.
    const beside = await call(`${base}/rivals?marketId=${marketId}`)
    const targets = [domain, ...beside.rivals.map((/** @type {{ domain: string }} */ each) => each.domain)].slice(0, 6)
    await call(`${base}/rivals/rankings`, { marketId, targets, months: 6 })
  }
  if (!(await call(`${base}/reports`)).reports.length)
    for (const [template, name] of [
      ['glance', 'The site at a glance'],
      ['positions', 'A month in positions'],
    ]) {
      const { id } = await call(`${base}/reports`, { marketId, name, template })
      await call(`${base}/reports/${id}/issues`, {})
    }
  return site.id
}

/** Rows of the keyword stream as objects. @param {string} url @param {Record<string, string>} headers @returns {Promise<Array<{ id: number, phrase: string, searches: number, gatherings: string, tracked: boolean }>>} */
async function keywordRows(url, headers) {
  /** @type {any[]} */
  const rows = []
  for (const line of (await (await fetch(url, { headers })).text()).trim().split('\n')) {
    const batch = JSON.parse(line)
    if (!batch.ids) continue
    const columns = Object.entries(/** @type {Record<string, unknown[]>} */ (batch.columns))
    for (const [i, id] of batch.ids.entries())
      rows.push({ id, ...batch.same, ...Object.fromEntries(columns.map(([key, values]) => [key, values[i]])) })
  }
  return rows
}
