import { execFileSync } from 'node:child_process'
import { join } from 'node:path'
import type { Entry } from '../lib/measures.ts'
import { root } from '../lib/stack.ts'

const [nodes, edges, rounds] = [10_000_000, 100_000_000, 3]

/** Ranks of ten million pages and a hundred million links whose edges and ranks are on disk, beside reading the same bytes from front to back. */
export const outOfCoreBench: Entry = {
  name: 'graph.outofcore.100m',
  gives: ['graph.outofcore.100m', 'graph.outofcore.100m.sort', 'graph.outofcore.100m.memory'],
  async run() {
    const { sortSeconds, iterationSeconds, readSeconds, ranges, peakBytes } = JSON.parse(
      execFileSync(
        process.execPath,
        ['--import', 'tsx', join(root, 'scripts/bench/outofcore-kernel.ts'), ...[nodes, edges, rounds].map(String)],
        { encoding: 'utf8', cwd: root },
      ),
    ) as Record<'sortSeconds' | 'iterationSeconds' | 'readSeconds' | 'ranges' | 'peakBytes', number>
    return [
      {
        name: 'graph.outofcore.100m',
        value: iterationSeconds,
        unit: `s an iteration, in ${ranges} ranges`,
        better: 'lower',
        reference: { what: 'reading the same bytes from front to back', value: readSeconds },
      },
      { name: 'graph.outofcore.100m.sort', value: sortSeconds, unit: 's to make and sort the edges', better: 'lower' },
      { name: 'graph.outofcore.100m.memory', value: peakBytes / 1e6, unit: 'MB at most (≤ 1,000)', better: 'lower' },
    ]
  },
}
