/** A page of a site map. `identity`: host and path as `page-identity` gives them, null = it has no address yet. */
export type TreePage = {
  key: string
  identity: string | null
  /** Where somebody put it: the key of another page, `top` = beside the first level; null = where its address says. */
  parent: string | null
  /** What it weighs among its siblings. */
  weight: number
  name: string
}
export type TreeRow = {
  key: string
  /** Place of its parent among the rows, −1 = none. */
  parent: number
  depth: number
  /** The path of a folder that has pages and is none itself; null = a page. */
  folder: string | null
}
export const top = 'top'
/** So many pages in a path that is no page itself make it a folder of its own. */
const leastInFolder = 2

/**
 * The pages of a site as a tree, in the order of its rows: the home page first, then each page below its parent, siblings by the weight
 * of all that is below them. A page's parent is where somebody put it, else the page with the longest path that its own goes on from;
 * several pages under a path that is no page make a folder. Hosts other than that of most pages stand as sections of their own. A
 * placement that would make a page its own ancestor is passed over. O(pages · depth).
 */
export function siteTree(pages: readonly TreePage[]): TreeRow[] {
  const host = mainHost(pages)
  const paths = pages.map(({ identity }) => (identity === null ? null : pathOf(identity)))
  const byPath = new Map<string, string>()
  for (const [i, path] of paths.entries()) if (path !== null && !byPath.has(path)) byPath.set(path, pages[i]!.key)
  const home = host === null ? undefined : (byPath.get(host) ?? undefined)
  const folders = foldersOf(paths, byPath)
  const parents = new Map<string, string | null>()
  const upFrom = (path: string): string | null => {
    for (let at = parentPath(path); at !== null; at = parentPath(at)) {
      const page = byPath.get(at)
      if (page !== undefined) return page
      if (folders.has(at)) return `folder:${at}`
    }
    return null
  }
  const known = new Set(pages.map(page => page.key))
  for (const path of folders) parents.set(`folder:${path}`, upFrom(path) ?? home ?? null)
  /** The page at the same path without a query, else what its path goes on from. */
  const above = (key: string, path: string): string | null => {
    const same = byPath.get(path)
    return same !== undefined && same !== key ? same : upFrom(path)
  }
  for (const [i, { key }] of pages.entries()) {
    const path = paths[i]!
    parents.set(key, key === home ? null : ((path === null ? null : above(key, path)) ?? home ?? null))
  }
  for (const { key, parent } of pages) {
    if (parent === null || key === home) continue
    if (parent === top) parents.set(key, home ?? null)
    else if (known.has(parent) || parents.has(parent)) if (!isBelow(parent, key, parents)) parents.set(key, parent)
  }
  return inOrder(pages, parents, home)
}

/** Host and path without query and closing slashes. */
function pathOf(identity: string): string {
  const mark = identity.indexOf('?')
  let end = mark < 0 ? identity.length : mark
  while (end > 0 && identity.charCodeAt(end - 1) === 47) end--
  return identity.slice(0, end)
}
const parentPath = (path: string): string | null => {
  const at = path.lastIndexOf('/')
  return at < 0 ? null : path.slice(0, at)
}

/** The host of most pages; of equals the shorter name. */
function mainHost(pages: readonly TreePage[]): string | null {
  const counts = new Map<string, number>()
  for (const { identity } of pages) {
    if (identity === null) continue
    const host = identity.slice(0, identity.indexOf('/'))
    counts.set(host, (counts.get(host) ?? 0) + 1)
  }
  return [...counts].sort(([a, m], [b, n]) => n - m || a.length - b.length || (a < b ? -1 : 1))[0]?.[0] ?? null
}

function foldersOf(paths: ReadonlyArray<string | null>, byPath: ReadonlyMap<string, string>): Set<string> {
  const counts = new Map<string, number>()
  for (const own of paths) {
    const path = own === null ? null : parentPath(own)
    // A host by itself is no folder.
    if (path?.includes('/') && !byPath.has(path)) counts.set(path, (counts.get(path) ?? 0) + 1)
  }
  return new Set([...counts].filter(([, count]) => count >= leastInFolder).map(([path]) => path))
}

/** Whether `key` is `above` or stands somewhere below it. */
function isBelow(key: string, above: string, parents: ReadonlyMap<string, string | null>): boolean {
  for (let at: string | null | undefined = key, steps = 0; at && steps <= parents.size; at = parents.get(at), steps++)
    if (at === above) return true
  return false
}

function inOrder(pages: readonly TreePage[], parents: Map<string, string | null>, home: string | undefined): TreeRow[] {
  const byKey = new Map(pages.map(page => [page.key, page]))
  const below = totals(parents, byKey)
  type Child = { key: string; below: number; name: string; folder: string | null }
  const children = new Map<string | null, Child[]>()
  for (const [key, parent] of parents) {
    const page = byKey.get(key)
    const folder = page ? null : key.slice('folder:'.length)
    const child = { key, below: below.get(key)!, name: page?.name ?? folder!, folder }
    const list = children.get(parent)
    if (list) list.push(child)
    else children.set(parent, [child])
  }
  // Last comes first: rows are taken from the end of those that wait.
  const order = (a: Child, b: Child): number =>
    Number(a.key === home) - Number(b.key === home) ||
    a.below - b.below ||
    (a.name < b.name ? 1 : a.name > b.name ? -1 : 0)
  const rows: TreeRow[] = []
  const waiting: Array<Child & { parent: number; depth: number }> = []
  const push = (parent: string | null, at: number, depth: number): void => {
    const list = children.get(parent)
    if (!list) return
    // A folder whose pages were all put elsewhere is none any more.
    for (const child of list.filter(each => each.folder === null || children.has(each.key)).sort(order))
      waiting.push({ ...child, parent: at, depth })
  }
  push(null, -1, 0)
  for (let next = waiting.pop(); next; next = waiting.pop()) {
    const { key, parent, depth, folder } = next
    rows.push({ key, parent, depth, folder })
    push(key, rows.length - 1, depth + 1)
  }
  return rows
}

/** Weights of all that is below each key, its own included. */
function totals(
  parents: ReadonlyMap<string, string | null>,
  byKey: ReadonlyMap<string, TreePage>,
): Map<string, number> {
  const sums = new Map<string, number>()
  for (const key of parents.keys()) sums.set(key, 0)
  for (const [key] of parents) {
    const weight = byKey.get(key)?.weight ?? 0
    if (weight === 0) continue
    for (let at: string | null | undefined = key, steps = 0; at && steps <= parents.size; at = parents.get(at), steps++)
      sums.set(at, (sums.get(at) ?? 0) + weight)
  }
  return sums
}
