import { Stream } from '../random.ts'
import type { Head } from './keywords.ts'

/** What the own site changed on a day, on its pages about a group of subjects. `effect`: true lasting change of their score. */
export type Change = {
  day: number
  what: 'titles' | 'more text' | 'less text' | 'layout'
  group: string
  effect: number
  note: string
}

const kinds: Array<{ what: Change['what']; note: string; low: number; high: number }> = [
  { what: 'titles', note: 'Titles rewritten', low: 0.22, high: 0.45 },
  { what: 'more text', note: 'Texts extended with sizes, prices and questions', low: 0.18, high: 0.4 },
  { what: 'less text', note: 'Texts cut down to a few lines', low: -0.45, high: -0.2 },
  { what: 'layout', note: 'New colours and buttons', low: 0, high: 0 },
]

/** One change about every nine weeks from 2024 on, whatever today is. */
export function makeChanges(seed: number, groups: string[], until: number): Change[] {
  const changes: Change[] = []
  const start = Math.floor(Date.UTC(2024, 0, 15) / 86_400_000)
  for (let period = 0; start + period * 63 < until; period++) {
    const stream = new Stream(seed, period, 131)
    const kind = stream.pick(kinds)
    const group = stream.pick(groups)
    changes.push({
      day: start + period * 63 + stream.int(28),
      what: kind.what,
      group,
      effect: kind.low + (kind.high - kind.low) * stream.next(),
      note: `${kind.note}: ${group}`,
    })
  }
  return changes
}

/** Sum of the effects on own pages about a head by a day; each comes in over a week. */
export function changeEffect(changes: Change[], head: Head, day: number): number {
  let sum = 0
  for (const change of changes)
    if (change.group === head.group && change.day < day) sum += change.effect * Math.min(1, (day - change.day) / 7)
  return Math.max(-0.6, Math.min(0.8, sum))
}
