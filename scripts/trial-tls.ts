/**
 * `npm run trial:tls`: the walk from a new program to a second person, in a browser, behind Debian's Caddy on loopback, with the Caddyfile of
 * docs/running.md. Only the address and the certificate differ: nobody outside can vouch for a name of this machine.
 */
import { spawn } from 'node:child_process'
import { existsSync, readFileSync, writeFileSync } from 'node:fs'
import { request } from 'node:https'
import { join } from 'node:path'
import { openBrowser } from './lib/browser.ts'
import { installDebian } from './lib/install.mjs'
import { freePort } from './lib/postgres.mjs'
import { say } from './lib/say.mjs'
import { root, startStack } from './lib/stack.ts'
import { walkSignIn } from './lib/walk-sign-in.ts'

if (!existsSync('/usr/bin/caddy')) installDebian(['caddy'], 'Caddy', '.')
const port = await freePort()
const origin = `https://localhost:${port}`
const stack = await startStack({ size: 0.3, env: { PUBLIC_ORIGINS: origin } })
const text = /```\n(trail\.example \{[\s\S]*?\n\})\n```/.exec(readFileSync(join(root, 'docs/running.md'), 'utf8'))?.[1]
if (!text) throw new Error('docs/running.md shows no Caddyfile')
const caddyfile = join(stack.folder, 'Caddyfile')
writeFileSync(
  caddyfile,
  `{\n\tadmin off\n\tauto_https disable_redirects\n\tskip_install_trust\n\tstorage file_system ${join(stack.folder, 'caddy')}\n}\n${text
    .replace('trail.example {', `localhost:${port} {\n\ttls internal`)
    .replace('127.0.0.1:4600', new URL(stack.server).host)}\n`,
)
const caddy = spawn('caddy', ['run', '--config', caddyfile, '--adapter', 'caddyfile'], { stdio: 'ignore' })
const browser = await openBrowser(['--ignore-certificate-errors'])
/** What is answered through the proxy to a request with another Host. */
const answerFor = (host: string): Promise<string> =>
  new Promise((done, fail) => {
    request(`${origin}/api/me`, { headers: { host }, servername: 'localhost', rejectUnauthorized: false }, answer => {
      let text = ''
      answer.on('data', chunk => (text += chunk))
      answer.on('end', () => done(text))
    })
      .on('error', fail)
      .end()
  })
try {
  const code = readFileSync(join(stack.dataDir, 'first-account-code'), 'utf8')
  const { cookie, steps } = await walkSignIn(browser.browser, origin, code)
  for (const step of steps) say(step)
  if (!cookie.secure || !cookie.httpOnly || !cookie.name.startsWith('__Host-'))
    throw new Error(`The cookie is not held to TLS: ${JSON.stringify(cookie)}`)
  say('the cookie is sent over TLS only')
  if ((await answerFor('evil.example')).includes('signIn')) throw new Error('Another host was answered')
  say('another host is not answered')
} catch (error) {
  console.error(error)
  process.exitCode = 1
} finally {
  await browser.close()
  caddy.kill()
  await stack.close()
}
