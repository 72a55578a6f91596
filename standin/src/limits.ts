/** Requests a second and a day that each service allows for one key; for the web, for one host. */
export const serviceLimits: Record<string, { perSecond: number; perDay: number }> = {
  engines: { perSecond: 60, perDay: 100_000 },
  completions: { perSecond: 60, perDay: 200_000 },
  ads: { perSecond: 20, perDay: 20_000 },
  feeds: { perSecond: 60, perDay: 200_000 },
  rankings: { perSecond: 20, perDay: 20_000 },
  registry: { perSecond: 40, perDay: 100_000 },
  querylog: { perSecond: 10, perDay: 5_000 },
  history: { perSecond: 2, perDay: 500 },
  maps: { perSecond: 60, perDay: 100_000 },
  dns: { perSecond: 100, perDay: 500_000 },
  web: { perSecond: 25, perDay: 200_000 },
}

/** A bucket a service (or host of the web): fills at the service's rate, holds two seconds' worth. */
export class Limits {
  readonly #buckets = new Map<string, { tokens: number; atMs: number; day: number; used: number }>()
  readonly #throttled: boolean
  constructor(throttled: boolean) {
    this.#throttled = throttled
  }
  /** Seconds to wait, 0 to go on, −1 when the day's quota is used up. */
  take(service: string, nowMs: number, host = ''): number {
    const limit = serviceLimits[service]
    if (!limit || !this.#throttled) return 0
    const day = Math.floor(nowMs / 86_400_000)
    const key = `${service} ${host}`
    const bucket = this.#buckets.get(key) ?? { tokens: limit.perSecond * 2, atMs: nowMs, day, used: 0 }
    this.#buckets.set(key, bucket)
    if (bucket.day !== day) Object.assign(bucket, { day, used: 0 })
    bucket.tokens = Math.min(limit.perSecond * 2, bucket.tokens + ((nowMs - bucket.atMs) / 1000) * limit.perSecond)
    bucket.atMs = nowMs
    if (bucket.used >= limit.perDay) return -1
    if (bucket.tokens < 1) return Math.max(1, Math.ceil((1 - bucket.tokens) / limit.perSecond))
    bucket.tokens--
    bucket.used++
    return 0
  }
}
