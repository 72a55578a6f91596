import { createHash } from 'node:crypto'
import { existsSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { run } from './install.mjs'
import { say } from './say.mjs'

/** @param {string} path @param {import('node:crypto').Hash} hash */
function addFiles(path, hash) {
  if (statSync(path).isFile()) {
    hash.update(path).update(readFileSync(path))
    return
  }
  for (const name of readdirSync(path).sort())
    if (name !== 'dist' && name !== 'node_modules') addFiles(join(path, name), hash)
}

/** Builds the web pages when their sources changed since the last whole build. @param {string} root */
export function buildWeb(root) {
  const hash = createHash('sha256')
  for (const part of ['web', 'core/src', 'contract/src', 'package-lock.json']) addFiles(join(root, part), hash)
  const wanted = hash.digest('hex')
  const stamp = join(root, 'web/dist/.built')
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === wanted) return
  say('Building the web pages')
  rmSync(stamp, { force: true })
  run(process.execPath, [join(root, 'node_modules/vite/bin/vite.js'), 'build', '--logLevel', 'error'], {
    cwd: join(root, 'web'),
  })
  writeFileSync(stamp, wanted)
}
