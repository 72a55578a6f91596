import { spawnSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { ClearError, say } from './say.mjs'

/** Ends with a clear line when Node is too old. */
export function needNode() {
  const [major = 0, minor = 0] = process.versions.node.split('.').map(Number)
  if (major < 20 || (major === 20 && minor < 19))
    throw new ClearError(`Dew Trail needs Node 20.19 or newer; this is ${process.versions.node}.`)
}

/** Runs a command to its end; throws the last lines of what it said. @param {string} command @param {string[]} args @param {import('node:child_process').SpawnSyncOptions} [options] */
export function run(command, args, options = {}) {
  const result = spawnSync(command, args, { encoding: 'utf8', maxBuffer: 64 << 20, ...options })
  if (result.error) throw new ClearError(`${command} could not be run: ${result.error.message}`)
  if (result.status !== 0)
    throw new ClearError(
      `${command} ${args.join(' ')} failed:\n${`${result.stdout ?? ''}${result.stderr ?? ''}`.trim().split('\n').slice(-12).join('\n')}`,
    )
  return String(result.stdout ?? '')
}

/** Installs npm packages when they are missing or the lock file has changed; a half-done install has no stamp and is done again. @param {string} root */
export function installPackages(root) {
  const stampPath = join(root, 'node_modules', '.dew-trail-installed')
  const wanted = createHash('sha256')
    .update(readFileSync(join(root, 'package-lock.json')))
    .digest('hex')
  if (existsSync(stampPath) && readFileSync(stampPath, 'utf8') === wanted) return
  say('Installing npm packages')
  run('npm', ['ci', '--no-audit', '--no-fund'], { cwd: root })
  mkdirSync(join(root, 'node_modules'), { recursive: true })
  writeFileSync(stampPath, wanted)
}

/** Installs Debian packages as root. @param {string[]} packages @param {string} what @param {string} otherwise */
export function installDebian(packages, what, otherwise) {
  const manual = `Install it with: sudo apt-get install ${packages.join(' ')}${otherwise}`
  if (!existsSync('/usr/bin/apt-get'))
    throw new ClearError(`${what} is not installed and there is no apt-get here.${otherwise}`)
  if (process.getuid?.() !== 0)
    throw new ClearError(`${what} is not installed and this account may not install it. ${manual}`)
  say(`Installing ${what} (Debian: ${packages.join(', ')})`)
  // The Debian package would start a cluster of its own; we only want the programs.
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' }
  try {
    run('apt-get', ['update', '-qq'], { env })
    run('apt-get', ['install', '-y', '-qq', '--no-install-recommends', ...packages], { env })
  } catch (error) {
    throw new ClearError(`${what} could not be installed. ${/** @type {Error} */ (error).message}\n${manual}`)
  }
}

/** Path of Debian's Chromium, installed when missing. */
export function needChromium() {
  if (!existsSync('/usr/bin/chromium'))
    installDebian(['chromium', 'fonts-liberation'], 'Chromium for the browser tests', '')
  return '/usr/bin/chromium'
}
