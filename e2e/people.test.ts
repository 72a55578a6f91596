import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { openBrowser } from '@dew-trail/scripts/lib/browser'
import { type Stack, startStack } from '@dew-trail/scripts/lib/stack'
import { walkSignIn } from '@dew-trail/scripts/lib/walk-sign-in'
import { afterAll, beforeAll, expect, test } from 'vitest'

let stack: Stack
let browser: Awaited<ReturnType<typeof openBrowser>>
beforeAll(async () => {
  stack = await startStack({ size: 0.3, today: '2026-11-20', env: { SIGN_IN: 'always' } })
  browser = await openBrowser()
})
afterAll(async () => {
  await browser?.close()
  await stack?.close()
})

test('from a code in the terminal to a second person who signed in', async () => {
  const code = readFileSync(join(stack.dataDir, 'first-account-code'), 'utf8')
  const { cookie, steps } = await walkSignIn(browser.browser, stack.server, code)
  expect(steps).toHaveLength(6)
  expect(cookie).toMatchObject({ httpOnly: true, sameSite: 'Strict', secure: false })
})
