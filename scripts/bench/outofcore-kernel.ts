import { openSync, readSync, closeSync, mkdtempSync, rmSync, readdirSync, statSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { EdgeFiles } from '@dew-trail/server/graph/edge-files'
import { rankFromDisk } from '@dew-trail/server/graph/rank-from-disk'

/**
 * Run as a process of its own, so that its peak memory is its own: sorts a made-up graph on disk and ranks it for some iterations. Prints one
 * line of JSON: seconds to sort, an iteration, and to read the same bytes from front to back; bytes of memory at the most.
 */
const [nodes, edges, rounds] = process.argv.slice(2).map(Number) as [number, number, number]
let state = 1
const draw = (): number => {
  state = (Math.imul(state, 1664525) + 1013904223) >>> 0
  return state / 2 ** 32
}
const folder = mkdtempSync(join(tmpdir(), 'dew-trail-outofcore-'))
try {
  let began = performance.now()
  const files = new EdgeFiles(folder, nodes, edges)
  for (let i = 0; i < edges; i++) {
    const source = Math.floor(draw() * nodes)
    const x = draw()
    files.add(source, Math.floor(x * x * x * nodes))
  }
  const graph = files.finish()
  const sortSeconds = (performance.now() - began) / 1_000
  const timed = async (iterations: number): Promise<number> => {
    began = performance.now()
    await rankFromDisk(graph, { mostIterations: iterations, tolerance: 0 }).catch(() => undefined)
    return performance.now() - began
  }
  // What begins and ends a computation falls away.
  const once = await timed(1)
  const iterationSeconds = ((await timed(1 + rounds)) - once) / rounds / 1_000
  const buffer = Buffer.allocUnsafe(1 << 23)
  const readFile = (name: string): void => {
    const file = openSync(join(folder, name), 'r')
    while (readSync(file, buffer, 0, buffer.length, null) > 0);
    closeSync(file)
  }
  const names = readdirSync(folder)
  const edgeFiles = names.filter(name => name.startsWith('edges-'))
  const [given, values] = [names.find(name => name.endsWith('-given'))!, names.find(name => name.endsWith('-values'))!]
  const readAll = (): number => {
    const from = performance.now()
    // Each range reads its edges and what all nodes give; then the ranks of its nodes.
    for (const name of edgeFiles) {
      readFile(name)
      readFile(given)
    }
    readFile(values)
    return (performance.now() - from) / 1_000
  }
  readAll()
  const readSeconds = Math.min(readAll(), readAll())
  const bytes = edgeFiles.reduce((sum, name) => sum + statSync(join(folder, name)).size, 0)
  console.log(
    JSON.stringify({
      sortSeconds,
      iterationSeconds,
      readSeconds,
      bytes,
      ranges: graph.ranges.length,
      peakBytes: process.resourceUsage().maxRSS * 1_024,
    }),
  )
} finally {
  rmSync(folder, { recursive: true, force: true })
}
