import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Entry } from '../lib/measures.ts'
import { root } from '../lib/stack.ts'

const nodes = 1_000_000
const edges = 10_000_000

/** Rows and ranks of a made-up graph of a million pages and ten million links, side by side with the same in C++. */
export const graphBench: Entry = {
  name: 'graph.10m',
  gives: ['graph.csr.10m', 'graph.pagerank.10m', 'graph.memory.10m'],
  async run() {
    const folder = mkdtempSync(join(tmpdir(), 'dew-trail-graph-'))
    try {
      const program = join(folder, 'page-rank')
      execFileSync('g++', [
        '-O3',
        '-march=native',
        '-std=c++17',
        '-o',
        program,
        join(root, 'scripts/bench/page-rank.cpp'),
      ])
      const runCpp = (): [number, number] => {
        const [build, iteration] = execFileSync(program, [String(nodes), String(edges), '12'], { encoding: 'utf8' })
          .split(' ')
          .map(Number) as [number, number]
        return [build, iteration]
      }
      type Ours = { buildMs: number; iterationMs: number; bytesPerLink: number }
      const runOurs = (): Ours =>
        JSON.parse(
          execFileSync(
            process.execPath,
            ['--import', 'tsx', join(root, 'scripts/bench/graph-kernel.ts'), String(nodes), String(edges)],
            {
              encoding: 'utf8',
              cwd: root,
            },
          ),
        ) as Ours
      // In turn, because the machine's speed changes by the minute.
      const rounds = [0, 1, 2].map(() => ({ cpp: runCpp(), ours: runOurs() }))
      const median = (values: number[]): number => values.sort((a, b) => a - b)[1]!
      return [
        {
          name: 'graph.csr.10m',
          value: median(rounds.map(({ ours }) => ours.buildMs)),
          unit: 'ms',
          better: 'lower',
          reference: { what: 'C++', value: median(rounds.map(({ cpp }) => cpp[0])) },
        },
        {
          name: 'graph.pagerank.10m',
          value: median(rounds.map(({ ours }) => ours.iterationMs)),
          unit: 'ms an iteration',
          better: 'lower',
          reference: { what: 'C++', value: median(rounds.map(({ cpp }) => cpp[1])) },
        },
        {
          name: 'graph.memory.10m',
          value: median(rounds.map(({ ours }) => ours.bytesPerLink)),
          unit: 'bytes a link at most',
          better: 'lower',
        },
      ]
    } finally {
      rmSync(folder, { recursive: true, force: true })
    }
  },
}
