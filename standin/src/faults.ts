import { textHash, unit } from './random.ts'

export const faultKinds = ['tooMany', 'serverError', 'timeout', 'truncated', 'quota', 'contentType'] as const
export type FaultKind = (typeof faultKinds)[number]
export type Fault = { service: string; kind: FaultKind; share: number }

/** Reads "ads:tooMany:0.1,engines:timeout:0.02". */
export function parseFaults(text: string): Fault[] {
  return text
    .split(',')
    .filter(Boolean)
    .map(part => {
      const [service, kind, share] = part.split(':')
      if (!service || !faultKinds.includes(kind as FaultKind) || !(Number(share) >= 0 && Number(share) <= 1))
        throw new Error(`STANDIN_FAULTS: "${part}" is not service:kind:share with a kind of ${faultKinds.join(', ')}`)
      return { service, kind: kind as FaultKind, share: Number(share) }
    })
}

/** Decides by seed, request and how often it was asked, so a run repeats and a second try can pass. */
export class Faults {
  list: Fault[]
  readonly #requests = new Map<number, number>()
  readonly #seed: number
  constructor(seed: number, list: Fault[]) {
    this.#seed = seed
    this.list = list
  }
  pick(service: string, request: string): FaultKind | undefined {
    const relevant = this.list.filter(fault => fault.service === service || fault.service === '*')
    if (!relevant.length) return undefined
    const key = textHash(`${service} ${request}`)
    const times = (this.#requests.get(key) ?? 0) + 1
    this.#requests.set(key, times)
    let draw = unit(this.#seed, key, times, 121)
    for (const fault of relevant) if ((draw -= fault.share) < 0) return fault.kind
    return undefined
  }
}
