import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import puppeteer, { type Browser } from 'puppeteer-core'
import { needChromium } from './install.mjs'

/** Debian's Chromium, headless, with a fresh profile that goes away with it. */
export async function openBrowser(more: readonly string[] = []): Promise<{ browser: Browser; close(): Promise<void> }> {
  const userDataDir = mkdtempSync(join(tmpdir(), 'dew-trail-browser-'))
  const browser = await puppeteer.launch({
    executablePath: needChromium(),
    headless: true,
    userDataDir,
    args: [
      '--no-sandbox',
      '--disable-gpu',
      '--disable-quic',
      '--no-first-run',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
      '--force-prefers-reduced-motion',
      '--enable-precise-memory-info',
      ...more,
    ],
  })
  return {
    browser,
    async close() {
      await browser.close()
      rmSync(userDataDir, { recursive: true, force: true, maxRetries: 5 })
    },
  }
}
