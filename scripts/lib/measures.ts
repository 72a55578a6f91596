import { writeFileSync } from 'node:fs'

export type Measure = {
  name: string
  value: number
  unit: string
  better: 'lower' | 'higher'
  reference?: { what: string; value: number }
}
/** `gives`: names of the measures, where one run gives several. */
export type Entry = { name: string; gives?: string[]; run(): Promise<Measure[]> }

/** Reads `--json FILE --seed N [name…]`; a name may end in `*`. */
export function readArguments(argv: string[]): { json: string | null; seed: number; names: string[] } {
  let json: string | null = null
  let seed = 7
  const names: string[] = []
  for (let i = 0; i < argv.length; i++) {
    if (argv[i] === '--json') json = argv[++i] ?? null
    else if (argv[i] === '--seed') seed = Number(argv[++i])
    else names.push(argv[i]!)
  }
  if (!Number.isInteger(seed) || seed < 0) throw new Error('--seed takes a whole number of 0 or more')
  return { json, seed, names }
}

export const wanted = (name: string, names: readonly string[]): boolean =>
  !names.length || names.some(each => (each.endsWith('*') ? name.startsWith(each.slice(0, -1)) : each === name))

const isWanted = (entry: Entry, names: readonly string[]): boolean =>
  [entry.name, ...(entry.gives ?? [])].some(each => wanted(each, names))
const namesOf = (entry: Entry): string[] => entry.gives ?? [entry.name]

/** Runs the wanted entries, prints each measure as it comes and writes all of them. An entry that fails is said and fails the run, the others go on. */
export async function runEntries(entries: Entry[], options: { json: string | null; names: string[] }): Promise<number> {
  const unknown = options.names.filter(name => !entries.some(entry => isWanted(entry, [name])))
  if (unknown.length) {
    console.error(`There is no entry ${unknown.join(', ')}. There are: ${entries.flatMap(namesOf).join(', ')}`)
    return 1
  }
  const measures: Measure[] = []
  let failed = 0
  for (const entry of entries.filter(each => isWanted(each, options.names))) {
    try {
      for (const measure of await entry.run()) {
        measures.push(measure)
        console.log(
          `${measure.name.padEnd(26)} ${round(measure.value)} ${measure.unit}${measure.reference ? `   (${measure.reference.what}: ${round(measure.reference.value)})` : ''}`,
        )
      }
    } catch (error) {
      failed++
      console.error(`${entry.name} failed: ${(error as Error).stack}`)
    }
  }
  if (options.json) writeFileSync(options.json, `${JSON.stringify(measures, null, 2)}\n`)
  return failed ? 1 : 0
}

const round = (value: number): string =>
  Math.abs(value) >= 100 ? Math.round(value).toLocaleString('en') : value.toPrecision(3)

export const quantile = (values: readonly number[], share: number): number => {
  const sorted = [...values].sort((a, b) => a - b)
  return sorted[Math.min(sorted.length - 1, Math.max(0, Math.ceil(share * sorted.length) - 1))] ?? Number.NaN
}
export const median = (values: readonly number[]): number => quantile(values, 0.5)

/** Spearman's rank correlation with mean ranks for ties (Spearman 1904). */
export function spearman(a: readonly number[], b: readonly number[]): number {
  if (a.length !== b.length || a.length < 3)
    throw new RangeError('spearman needs two lists of one length, three or more')
  const ranks = (values: readonly number[]): number[] => {
    const order = values.map((value, i) => ({ value, i })).sort((x, y) => x.value - y.value)
    const out = new Array<number>(values.length)
    for (let i = 0; i < order.length; ) {
      let j = i
      while (j + 1 < order.length && order[j + 1]!.value === order[i]!.value) j++
      for (let k = i; k <= j; k++) out[order[k]!.i] = (i + j) / 2
      i = j + 1
    }
    return out
  }
  const [x, y] = [ranks(a), ranks(b)]
  const mean = (a.length - 1) / 2
  let xy = 0
  let xx = 0
  let yy = 0
  for (let i = 0; i < x.length; i++) {
    xy += (x[i]! - mean) * (y[i]! - mean)
    xx += (x[i]! - mean) ** 2
    yy += (y[i]! - mean) ** 2
  }
  return xy / Math.sqrt(xx * yy)
}

/** Median milliseconds of a question that may take seconds, asked three times. */
export async function few(ask: () => Promise<unknown>): Promise<number> {
  const times: number[] = []
  for (let i = 0; i < 3; i++) {
    const startedMs = performance.now()
    await ask()
    times.push(performance.now() - startedMs)
  }
  return median(times)
}
