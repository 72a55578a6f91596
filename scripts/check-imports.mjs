/**
 * Checks the import rules of the house: which workspace may import which, no cycle between files, no import
 * past a package's named exports, and no package that the workspace's own package.json does not name.
 */
import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs'
import { builtinModules } from 'node:module'
import { dirname, join, relative, resolve, sep } from 'node:path'
import { fileURLToPath } from 'node:url'

/** Workspace → workspaces of ours it may import. */
const allowed = {
  core: [],
  contract: ['core'],
  standin: [],
  server: ['core', 'contract'],
  web: ['core', 'contract'],
  e2e: ['contract', 'scripts'],
  scripts: ['core', 'contract', 'server', 'standin', 'e2e'],
}
/** Packages of others that the pure and the shared workspaces may use at all. */
const onlyPackages = {
  core: ['snowball-stemmers', 'htmlparser2', 'eld', 'marked', 'pluralize', 'tldts'],
  contract: ['zod'],
}
const testPackages = ['vitest', 'highs', 'parse5', 'wabt', 'node:fs']
const rootPackages = ['vitest', 'typescript', 'tsx']

/** Layers within a workspace: a folder may import those that stand before it. What stands beside them puts everything together. */
const layers = {
  server: ['platform', 'sources', 'domain', 'features'],
  web: [
    ...['theme', 'api', 'rows', 'ui', 'pictures', 'sheet', 'link-profile', 'keywords', 'imports'],
    ...['features', 'shell'],
  ],
}
/** Modules of the server's domain: each may import those that stand before it. */
const domainModules = [
  ...[
    'people',
    'keeping',
    'sites',
    'acts',
    'schedules',
    'pages',
    'keywords',
    'query-log',
    'imports',
    'results',
    'graph',
    'positions',
  ],
  ...['chances', 'themes', 'plans', 'lists', 'notes', 'web-hooks', 'keyword-rows'],
]

/**
 * What an import within a workspace does against its layers; `undefined` when nothing. Types of the files that put everything together
 * (`context.ts`) may be used anywhere.
 * @param {string} workspace @param {string} from @param {string} to paths within the workspace's src
 */
function againstLayers(workspace, from, to) {
  const order = layers[/** @type {keyof typeof layers} */ (workspace)]
  const [fromLayer = '', fromModule = ''] = from.split(sep)
  const [toLayer = '', toModule = ''] = to.split(sep)
  if (!order?.includes(fromLayer) || !order.includes(toLayer)) return undefined
  if (order.indexOf(toLayer) > order.indexOf(fromLayer)) return `${fromLayer} must not import ${toLayer} (${to})`
  if (fromLayer !== toLayer || fromModule === toModule) return undefined
  if (fromLayer === 'features') return `features never import each other (${to})`
  if (workspace !== 'server' || fromLayer !== 'domain') return undefined
  const [a, b] = [domainModules.indexOf(fromModule), domainModules.indexOf(toModule)]
  if (a < 0 || b < 0) return `${a < 0 ? fromModule : toModule} is not among the modules of the domain`
  return b > a ? `${fromModule} stands before ${toModule} and must not import it (${to})` : undefined
}

/** @param {string} folder @returns {string[]} */
function sourceFiles(folder) {
  return readdirSync(folder).flatMap(name => {
    const path = join(folder, name)
    if (name === 'node_modules' || name === 'dist') return []
    if (statSync(path).isDirectory()) return sourceFiles(path)
    return /\.(ts|tsx|mjs)$/.test(name) ? [path] : []
  })
}

const importPattern =
  /(?:^|\n)\s*(?:import|export)\b[^'"\n;]*?(?:\{[^}]*\}[^'"\n;]*?)?from\s*['"]([^'"]+)['"]|\bimport\(\s*['"]([^'"]+)['"]\s*\)|(?:^|\n)\s*import\s*['"]([^'"]+)['"]|new URL\(\s*['"](\.[^'"]+\.tsx?)['"]/g

/** @param {string} root @returns {string[]} what is against the rules, one line each */
export function checkImports(root) {
  /** @type {string[]} */
  const wrong = []
  /** @type {Map<string, string[]>} */
  const graph = new Map()
  for (const [workspace, mayImport] of Object.entries(allowed)) {
    const base = join(root, workspace)
    if (!existsSync(base)) continue
    const manifest = JSON.parse(readFileSync(join(base, 'package.json'), 'utf8'))
    const named = new Set(Object.keys({ ...manifest.dependencies, ...manifest.devDependencies }))
    for (const file of sourceFiles(base)) {
      const text = readFileSync(file, 'utf8')
      const edges = []
      const say = (/** @type {string} */ what) => wrong.push(`${relative(root, file)}: ${what}`)
      for (const match of text.matchAll(importPattern)) {
        const target = match[1] ?? match[2] ?? match[3] ?? match[4] ?? ''
        if (target.startsWith('.')) {
          const path = resolve(dirname(file), target.replace(/\?.*$/, ''))
          // The help shows a page of the docs, which says what our words mean once for all.
          if (path.startsWith(join(root, 'docs') + sep) && path.endsWith('.md')) continue
          if (!path.startsWith(base + sep)) say(`reaches out of its workspace with ${target}`)
          else if (!existsSync(path)) say(`imports ${target}, which does not exist`)
          else if (!match[4]) edges.push(path)
          const inSource = (/** @type {string} */ each) => relative(join(base, 'src'), each)
          const wrongWay = againstLayers(workspace, inSource(file), inSource(path))
          if (wrongWay) say(wrongWay)
          continue
        }
        if (target.startsWith('node:') || builtinModules.includes(target)) {
          if (workspace === 'core' && !file.endsWith('.test.ts')) say(`core must not use ${target}`)
          continue
        }
        const own = /^@dew-trail\/([a-z0-9]+)\/?(.*)$/.exec(target)
        if (own) {
          const other = own[1] ?? ''
          if (!mayImport.includes(/** @type {never} */ (other))) {
            say(`${workspace} must not import ${other}`)
            continue
          }
          const exportsOf = Object.entries(
            JSON.parse(readFileSync(join(root, other, 'package.json'), 'utf8')).exports ?? {},
          )
          const hit = exportsOf
            .map(([key, value]) => {
              const pattern = new RegExp(`^${key.replace(/[.]/g, '\\.').replace('*', '([^/]+)')}$`)
              const found = pattern.exec(`./${own[2]}`)
              return found ? join(root, other, String(value).replace('*', found[1] ?? '')) : undefined
            })
            .find(Boolean)
          if (!hit || !existsSync(hit)) say(`${target} is not a named export`)
          else edges.push(hit)
          continue
        }
        const name = target.startsWith('@') ? target.split('/').slice(0, 2).join('/') : (target.split('/')[0] ?? '')
        const isTest = /\.test\.tsx?$|[/\\]test[/\\]|vitest/.test(file)
        if (!(isTest && testPackages.includes(name)) && !rootPackages.includes(name) && !named.has(name))
          say(`${name} is not in ${workspace}/package.json`)
        const only = onlyPackages[/** @type {keyof typeof onlyPackages} */ (workspace)]
        if (only && !only.includes(name) && !(isTest && testPackages.includes(name)))
          say(`${workspace} must not use ${name}`)
      }
      graph.set(file, edges)
    }
  }
  for (const cycle of cycles(graph)) wrong.push(`cycle: ${cycle.map(file => relative(root, file)).join(' → ')}`)
  return wrong
}

/** @param {Map<string, string[]>} graph @returns {string[][]} */
function cycles(graph) {
  /** @type {string[][]} */
  const found = []
  /** @type {Map<string, 'open' | 'done'>} */
  const state = new Map()
  const visit = (/** @type {string} */ file, /** @type {string[]} */ path) => {
    state.set(file, 'open')
    for (const next of graph.get(file) ?? []) {
      if (state.get(next) === 'open') found.push([...path.slice(path.indexOf(next)), next])
      else if (!state.has(next)) visit(next, [...path, next])
    }
    state.set(file, 'done')
  }
  for (const file of graph.keys()) if (!state.has(file)) visit(file, [file])
  return found
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  const wrong = checkImports(fileURLToPath(new URL('..', import.meta.url)))
  for (const line of wrong) console.error(`imports: ${line}`)
  console.log(wrong.length ? `imports: ${wrong.length} against the rules` : 'imports: all within the rules')
  process.exit(wrong.length ? 1 : 0)
}
