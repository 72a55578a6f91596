import { setTimeout as sleep } from 'node:timers/promises'
import type { Page } from 'puppeteer-core'

/** What a person does and waits for on a page of the program. */
export function stepsOn(page: () => Page) {
  const text = (): Promise<string> => page().evaluate(() => document.body.innerText)
  const until = async (what: string, check: () => Promise<boolean>): Promise<void> => {
    for (let tries = 0; tries < 400; tries++) {
      if (await check()) return
      await sleep(50)
    }
    throw new Error(`did not come: ${what}\n${(await text()).slice(-700)}`)
  }
  return {
    text,
    until,
    seen: (words: string) => until(words, async () => (await text()).includes(words)),
    click: async (name: string, within = 'body'): Promise<void> => {
      const handle = await page().waitForSelector(`${within} ::-p-aria([name="${name}"])`, { timeout: 15_000 })
      await handle!.click()
    },
    rowCount: () => page().$$eval('.sheet-row', rows => rows.length),
    firstPhrase: () => page().evaluate(() => document.querySelector('.sheet-row .keyword-name')?.textContent ?? ''),
    /** Goes to a station by the trail. */
    station: (name: string) => page().click(`.trail a[href*="/${name}"]`),
    keys: async (...names: string[]): Promise<void> => {
      for (const name of names) {
        const parts = name.split('+')
        for (const held of parts.slice(0, -1)) await page().keyboard.down(held as 'Control')
        await page().keyboard.press(parts.at(-1) as 'Enter')
        for (const held of parts.slice(0, -1)) await page().keyboard.up(held as 'Control')
      }
    },
  }
}
