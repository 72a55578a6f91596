import { spawn } from 'node:child_process'
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import { checkImports } from './check-imports.mjs'
import { median, quantile, readArguments, runEntries, spearman, wanted } from './lib/measures.ts'
import { isAlive } from './lib/postgres.mjs'
import { takeLock } from './lib/start-lock.mjs'

let folder: string
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'dew-trail-scripts-'))
})
afterEach(() => rmSync(folder, { recursive: true, force: true }))

describe('import rules', () => {
  const tree = (files: Record<string, string>): string[] => {
    const all: Record<string, string> = {
      'core/package.json': '{"exports":{"./words/*":"./src/words/*.ts"}}',
      'core/src/words/stem.ts': 'export const stem = 1\n',
      'contract/package.json': '{"exports":{"./*":"./src/*.ts"},"dependencies":{"zod":"4"}}',
      'contract/src/sites.ts': 'export const a = 1\n',
      'server/package.json': '{"dependencies":{"pg":"8"}}',
      'server/src/main.ts': '',
      'web/package.json': '{}',
      'web/src/a.ts': '',
      'standin/package.json': '{}',
      'standin/src/a.ts': '',
      'e2e/package.json': '{}',
      'scripts/package.json': '{}',
      ...files,
    }
    for (const [path, text] of Object.entries(all)) {
      mkdirSync(dirname(join(folder, path)), { recursive: true })
      writeFileSync(join(folder, path), text)
    }
    return checkImports(folder)
  }
  test('a tree within the rules is right', () =>
    expect(
      tree({
        'server/src/main.ts':
          "import { stem } from '@dew-trail/core/words/stem'\nimport pg from 'pg'\nimport { x } from 'node:fs'\n",
      }),
    ).toEqual([]))
  test.each([
    ['core/src/words/stem.ts', "import { a } from '@dew-trail/contract/sites'\n", 'core must not import contract'],
    ['core/src/words/stem.ts', "import fs from 'node:fs'\n", 'core must not use node:fs'],
    ['core/src/words/stem.ts', "import { z } from 'zod'\n", 'core must not use zod'],
    ['standin/src/a.ts', "import { stem } from '@dew-trail/core/words/stem'\n", 'standin must not import core'],
    ['server/src/main.ts', "import { stem } from '@dew-trail/core/src/words/stem'\n", 'not a named export'],
    ['server/src/main.ts', "import x from 'left-pad'\n", 'not in server/package.json'],
    ['web/src/a.ts', "import { a } from '../../core/src/words/stem.ts'\n", 'reaches out of its workspace'],
    ['web/src/a.ts', "import { b } from './missing.ts'\n", 'does not exist'],
    ['server/src/main.ts', "export { a } from '@dew-trail/standin/main'\n", 'server must not import standin'],
    ['server/src/platform/a.ts', "import '../features/b/c.ts'\n", 'platform must not import features'],
    ['server/src/features/a/b.ts', "import '../b/c.ts'\n", 'features never import each other'],
    [
      'server/src/domain/results/a.ts',
      "import '../graph/b.ts'\n",
      'results stands before graph and must not import it',
    ],
    ['server/src/domain/odd/a.ts', "import '../graph/b.ts'\n", 'odd is not among the modules of the domain'],
    ['web/src/sheet/a.ts', "import '../features/b/c.ts'\n", 'sheet must not import features'],
    ['web/src/a.ts', "const x = await import('@dew-trail/server/main')\n", 'web must not import server'],
  ])('%s with %j is found', (path, text, words) => expect(tree({ [path]: text }).join('\n')).toContain(words))
  test('a cycle is found', () =>
    expect(
      tree({ 'web/src/a.ts': "import './b.ts'\n", 'web/src/b.ts': "import { a } from './a.ts'\n" }).join('\n'),
    ).toContain('cycle: web/src/a.ts → web/src/b.ts → web/src/a.ts'))
  test('the stand-in shares no code with the rest of this project', () => {
    expect(checkImports(join(import.meta.dirname, '..')).filter(line => line.includes('standin'))).toEqual([])
    expect(
      JSON.parse(readFileSync(join(import.meta.dirname, '../standin/package.json'), 'utf8')).dependencies ?? {},
    ).toEqual({})
  })
})

describe('measures', () => {
  test('arguments are read', () => {
    expect(readArguments(['--json', 'f', '--seed', '3', 'a', 'b*'])).toEqual({ json: 'f', seed: 3, names: ['a', 'b*'] })
    expect(() => readArguments(['--seed', 'x'])).toThrow(/whole number/)
  })
  test('names may end in a star', () => {
    expect(wanted('gather.3000', [])).toBe(true)
    expect(wanted('gather.3000', ['gather*'])).toBe(true)
    expect(wanted('gather.3000', ['gather'])).toBe(false)
  })
  test('quantiles and the median', () => {
    expect(median([3, 1, 2])).toBe(2)
    expect(quantile([1, 2, 3, 4], 0.95)).toBe(4)
    expect(quantile([], 0.5)).toBeNaN()
  })
  test('rank correlation: same order 1, turned round −1, ties shared', () => {
    expect(spearman([1, 2, 3, 4], [10, 20, 30, 99])).toBeCloseTo(1)
    expect(spearman([1, 2, 3, 4], [4, 3, 2, 1])).toBeCloseTo(-1)
    expect(spearman([1, 1, 2, 3], [1, 1, 2, 3])).toBeCloseTo(1)
    expect(() => spearman([1], [1, 2])).toThrow(RangeError)
  })
  test('entries that fail do not keep the others from the file, and unknown names are an error', async () => {
    const json = join(folder, 'out.json')
    const good = { name: 'good', run: async () => [{ name: 'good', value: 1, unit: 's', better: 'lower' as const }] }
    const bad = {
      name: 'bad',
      run: async () => {
        throw new Error('no')
      },
    }
    expect(await runEntries([bad, good], { json, names: [] })).toBe(1)
    expect(JSON.parse(readFileSync(json, 'utf8'))).toEqual([{ name: 'good', value: 1, unit: 's', better: 'lower' }])
    expect(await runEntries([good], { json: null, names: ['other'] })).toBe(1)
    expect(await runEntries([good], { json: null, names: ['go*'] })).toBe(0)
  })
})

describe('the lock of a start', () => {
  test('is freed, taken again, and says the address while held by a start', async () => {
    const path = join(folder, 'data', 'start.lock')
    const lock = await takeLock(path)
    lock.setUrl('http://127.0.0.1:1')
    expect(JSON.parse(readFileSync(path, 'utf8'))).toMatchObject({ pid: process.pid, url: 'http://127.0.0.1:1' })
    lock.free()
    ;(await takeLock(path)).free()
  })
  test('is taken over when its process is gone, and when its file is broken', async () => {
    const child = spawn(process.execPath, ['-e', ''])
    await new Promise(resolve => child.on('exit', resolve))
    const path = join(folder, 'start.lock')
    writeFileSync(path, JSON.stringify({ pid: child.pid, children: [] }))
    expect(isAlive(child.pid!)).toBe(false)
    ;(await takeLock(path)).free()
    writeFileSync(path, '{broken')
    ;(await takeLock(path)).free()
  })
  test('a running start keeps it', async () => {
    const script = join(folder, 'start.mjs')
    writeFileSync(script, 'setTimeout(() => {}, 60000)')
    const child = spawn(process.execPath, [script])
    await new Promise(resolve => child.on('spawn', resolve))
    const path = join(folder, 'start.lock')
    writeFileSync(path, JSON.stringify({ pid: child.pid, url: 'http://127.0.0.1:4600', children: [] }))
    await expect(takeLock(path)).rejects.toThrow('already runs at http://127.0.0.1:4600')
    child.kill()
  })
})
