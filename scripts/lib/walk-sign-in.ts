import type { Browser, Page } from 'puppeteer-core'

export type Walked = { cookie: { name: string; secure: boolean; httpOnly: boolean; sameSite: string }; steps: string[] }
const password = 'brisk otter paints nine jars'

/** Fills a field by its label, as a person does. */
async function fill(page: Page, label: string, text: string): Promise<void> {
  const field = await page.waitForSelector(`::-p-aria([name="${label}"][role="textbox"])`, { timeout: 20_000 })
  await field!.click({ count: 3 })
  await field!.type(text)
}
async function fillPassword(page: Page): Promise<void> {
  const field = await page.waitForSelector('input[type="password"]', { timeout: 20_000 })
  await field!.type(password)
}
const press = async (page: Page, name: string): Promise<void> => {
  const button = await page.waitForSelector(`::-p-aria([name="${name}"][role="button"])`, { timeout: 20_000 })
  await button!.click()
}
const seen = (page: Page, words: string): Promise<unknown> =>
  page.waitForFunction(text => document.body.innerText.includes(text), { timeout: 20_000 }, words)

/**
 * From a program that nobody has an account of to a second person who signed in: the first account by its code, a site, an invitation, the
 * second person in a browser of their own, who reads and may not invite, and goes out again.
 */
export async function walkSignIn(browser: Browser, url: string, code: string): Promise<Walked> {
  const steps: string[] = []
  const first = await (await browser.createBrowserContext()).newPage()
  await first.setViewport({ width: 1280, height: 800 })
  await first.goto(url)
  await seen(first, 'The first account')
  await fill(first, 'Code from the terminal', code)
  await fill(first, 'Your name', 'Ana Rye')
  await fill(first, 'Mail address', 'ana.rye@kilnandtide.example')
  await fillPassword(first)
  await press(first, 'Make the account')
  steps.push('the first account is made')
  await press(first, 'Add a site')
  await fill(first, 'Domain', 'kilnandtide.example')
  await press(first, 'Add')
  await seen(first, 'Gather the first keywords')
  steps.push('a site is added')
  await press(first, 'Ana Rye: account, people, keys')
  await (await first.waitForSelector('::-p-aria([name="People"][role="menuitem"])'))!.click()
  await fill(first, 'Mail address', 'rea@kilnandtide.example')
  await (await first.waitForSelector('::-p-aria([role="combobox"])'))!.click()
  await (await first.waitForSelector('::-p-aria([name="reader"][role="option"])'))!.click()
  // The list lies over the page until it has faded.
  await first.waitForSelector('[role="listbox"]', { hidden: true })
  await press(first, 'Invite')
  const field = await first.waitForSelector('.secret-address')
  const address = await field!.evaluate(input => (input as HTMLInputElement).value)
  steps.push('a reader is invited')

  const second = await (await browser.createBrowserContext()).newPage()
  await second.setViewport({ width: 1280, height: 800 })
  await second.goto(address)
  await seen(second, 'Ana Rye invited rea@kilnandtide.example to kilnandtide.example.')
  await fill(second, 'Your name', 'Rea Dune')
  await fillPassword(second)
  await press(second, 'Make the account')
  await seen(second, 'you may read this site')
  steps.push('the second person is in, as a reader')
  await press(second, 'Rea Dune: account, people, keys')
  await (await second.waitForSelector('::-p-aria([name="People"][role="menuitem"])'))!.click()
  await seen(second, 'Ana Rye')
  if (await second.$('::-p-aria([name="Invite"][role="button"])')) throw new Error('A reader was offered to invite')
  // What one does shows on the other's screen: events come through.
  await seen(first, 'Rea Dune')
  steps.push('each sees the other come')
  const cookies = await second.browserContext().cookies()
  const cookie = cookies.find(each => each.name.includes('dew-trail'))!
  await press(second, 'Rea Dune: account, people, keys')
  await (await second.waitForSelector('::-p-aria([name="Sign out"][role="menuitem"])'))!.click()
  await seen(second, 'Sign in')
  await fill(second, 'Mail address', 'rea@kilnandtide.example')
  await fillPassword(second)
  await press(second, 'Sign in')
  await seen(second, 'you may read this site')
  steps.push('out, and in again by password')
  const { name, secure, httpOnly = false, sameSite } = cookie
  return { cookie: { name, secure, httpOnly, sameSite: String(sameSite) }, steps }
}
