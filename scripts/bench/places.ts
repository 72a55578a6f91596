import { createPlaceGrid, readTown, startPlaceRun } from '@dew-trail/contract/places'
import { createSite } from '@dew-trail/contract/sites'
import type { Page } from 'puppeteer-core'
import { openBrowser } from '../lib/browser.ts'
import { buildWeb } from '../lib/build-web.mjs'
import { callServer, finishJob } from '../lib/client.ts'
import { type Entry, median } from '../lib/measures.ts'
import { root, startStack } from '../lib/stack.ts'

const looks = 7

/** A run of 169 points from the button to its end, and the drawing of 441 hexagons. */
export const placesBench: Entry = {
  name: 'places.run.169',
  gives: ['places.run.169', 'places.draw.441'],
  async run() {
    buildWeb(root)
    const stack = await startStack({ env: { RATE_ENGINES: '5000' } })
    const { browser, close } = await openBrowser()
    try {
      const { server } = stack
      const site = await callServer(server, createSite, { domain: 'kilnandtide.example', name: 'Kiln & Tide' })
      const siteId = site.id
      const { businesses } = await callServer(server, readTown, { siteId, town: 'port-hallow' })
      const lay = (size: number, spacing: number) =>
        callServer(server, createPlaceGrid, {
          siteId,
          town: 'port-hallow',
          engine: 'lantern',
          language: 'en',
          keywords: ['pottery class'],
          businesses: [businesses[0]!.id],
          ...{ latitude: businesses[0]!.latitude, longitude: businesses[0]!.longitude },
          size,
          spacing,
        })
      const times: number[] = []
      const { gridId } = await lay(13, 300)
      for (let i = 0; i < 3; i++) {
        const began = performance.now()
        const { jobId } = await callServer(server, startPlaceRun, { siteId, gridId })
        await finishJob(server, jobId)
        times.push(performance.now() - began)
      }
      const large = await lay(21, 200)
      await finishJob(server, (await callServer(server, startPlaceRun, { siteId, gridId: large.gridId })).jobId)
      const page = await browser.newPage()
      await page.setViewport({ width: 1280, height: 800 })
      await page.goto(`${server}/${siteId}/places?grid=${large.gridId}`)
      await page.waitForFunction(`document.querySelectorAll('.places-row .hex text').length === 441`)
      const drawn = await drawing(page)
      return [
        {
          name: 'places.run.169',
          value: median(times) / 1000,
          unit: 's, 13 × 13 points, from the press to the end of the job',
          better: 'lower',
        },
        {
          name: 'places.draw.441',
          value: drawn,
          unit: 'ms from the press on Map to the frame with all 441 hexagons, the town among them',
          better: 'lower',
        },
      ]
    } finally {
      await close()
      await stack.close()
    }
  },
}

/** Median milliseconds from a press that changes all hexagons (Points and back to the map) to the frame in which all are there. */
async function drawing(page: Page): Promise<number> {
  const times: number[] = []
  for (let i = 0; i < looks; i++) {
    await press(page, 'Points')
    await page.waitForSelector('.sheet-row')
    await page.evaluate(`window.began = performance.now()`)
    await press(page, 'Map')
    // As text: the TypeScript runner puts helpers of its own into functions, which a page does not have.
    times.push(
      (await page.evaluate(`new Promise(done => {
        const look = () => document.querySelectorAll('.places-row .hex text').length === 441
          ? requestAnimationFrame(() => done(performance.now() - window.began)) : requestAnimationFrame(look)
        look()
      })`)) as number,
    )
  }
  return median(times.slice(1))
}
const press = (page: Page, words: string): Promise<unknown> =>
  page.evaluate(
    `[...document.querySelectorAll('.bar-end button')].find(each => each.textContent === ${JSON.stringify(words)}).click()`,
  )
