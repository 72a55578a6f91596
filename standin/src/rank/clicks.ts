import type { Device } from '../world/vocabulary.ts'
import type { Query } from './understand.ts'

/** What else stands on a result page, as far as it takes clicks from the results. */
export type Features = { ads: number; answer: boolean; shopping: boolean; map: boolean; images: boolean }

const byPosition: Record<Device, number[]> = {
  desktop: [0.31, 0.155, 0.1, 0.072, 0.053, 0.041, 0.032, 0.026, 0.022, 0.019],
  mobile: [0.27, 0.15, 0.104, 0.074, 0.051, 0.036, 0.027, 0.021, 0.017, 0.014],
}

/** True share of the searchers who see place `position` (1, 2, …); few go on to a second page. */
export function seenShare(position: number, device: Device): number {
  if (position <= 3) return 1
  const slope = device === 'mobile' ? 0.06 : 0.04
  if (position <= 10) return 1 - slope * (position - 3)
  return (device === 'mobile' ? 0.07 : 0.11) * 0.42 ** (Math.ceil(position / 10) - 2)
}

/** True share of searches that click the result at `position`, given who searches for what and what else the page shows. */
export function clickShare(position: number, device: Device, query: Query, features: Features): number {
  const [learn, compare, , go] = query.intent as [number, number, number, number, number]
  const plain =
    position <= 10 ? byPosition[device][position - 1]! : 0.12 * seenShare(position, device) * (10 / position) ** 0.5
  const taken =
    1 -
    0.05 * features.ads -
    (features.answer ? (position === 1 ? 0.1 : 0.24) : 0) -
    (features.shopping ? 0.1 : 0) -
    (features.map ? 0.16 : 0) -
    (features.images ? 0.04 : 0)
  // Who wants one site clicks it where it stands; who compares or learns opens more than one result.
  const wanted = go > 0.5 ? (position === 1 ? 2.1 : 0.35) : 1
  const deeper = 1 + 0.12 * (learn + compare) * Math.min(1, (position - 1) / 4)
  return Math.min(0.92, plain * Math.max(0.2, taken) * wanted * deeper)
}
