/** `npm test`: installs what is missing, then type check, lint, import rules, unit, server and browser tests. The last line counts. */
import { spawnSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { buildWeb } from './lib/build-web.mjs'
import { installPackages, needChromium, needNode } from './lib/install.mjs'
import { needPostgres } from './lib/postgres.mjs'
import { say } from './lib/say.mjs'

const root = fileURLToPath(new URL('..', import.meta.url))
let passed = 0
let failed = 0
/** @param {string} name @param {string[]} args */
const check = (name, args) => {
  console.log(`\n${name}`)
  const { status } = spawnSync(process.execPath, args, { cwd: root, stdio: ['ignore', 'inherit', 'inherit'] })
  if (status === 0) passed++
  else failed++
}

try {
  needNode()
  installPackages(root)
  needPostgres()
  needChromium()
  check('Types', ['scripts/check-types.mjs'])
  check('Lint', [
    'node_modules/@biomejs/biome/bin/biome',
    'check',
    '.',
    '--diagnostic-level=warn',
    '--error-on-warnings',
  ])
  check('Import rules', ['scripts/check-imports.mjs'])
  buildWeb(root)
  console.log('\nTests')
  const folder = mkdtempSync(join(tmpdir(), 'dew-trail-result-'))
  const report = join(folder, 'report.json')
  const vitest = spawnSync(
    process.execPath,
    ['node_modules/vitest/vitest.mjs', 'run', '--reporter=default', '--reporter=json', `--outputFile.json=${report}`],
    { cwd: root, stdio: ['ignore', 'inherit', 'inherit'] },
  )
  try {
    const result = JSON.parse(readFileSync(report, 'utf8'))
    passed += result.numPassedTests
    failed += result.numFailedTests
    // A file that could not even be loaded has no failed test of its own.
    if (vitest.status !== 0 && result.numFailedTests === 0) failed++
    if (result.numPassedTests === 0) failed++
  } catch {
    console.error('The tests left no report')
    failed++
  }
  rmSync(folder, { recursive: true, force: true })
} catch (error) {
  say(/** @type {Error} */ (error).message)
  failed++
}
console.log(`\n${passed} passed, ${failed} failed`)
process.exit(failed ? 1 : 0)
