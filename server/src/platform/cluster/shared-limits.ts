import { setTimeout as sleep } from 'node:timers/promises'
import type pg from 'pg'

/**
 * Lets requests to a source out to processes so that all together keep its rate. A process takes a few at a time; those it does not use within
 * the second are lost. With a limit a day these are counted too, those taken and not used with them.
 */
export class SharedRate {
  readonly #pool: pg.Pool
  readonly #source: string
  readonly #perSecond: number
  #left = 0
  #untilMs = 0
  #asking: Promise<number> | null = null

  constructor(pool: pg.Pool, source: string, perSecond: number) {
    this.#pool = pool
    this.#source = source
    this.#perSecond = perSecond
  }

  /** Waits for leave to make one request; false where the limit of the day, null = none, is reached. */
  async take(mostADay: number | null, signal?: AbortSignal): Promise<boolean> {
    for (;;) {
      signal?.throwIfAborted()
      if (Date.now() >= this.#untilMs) this.#left = 0
      if (this.#left > 0) break
      this.#asking ??= this.#ask().finally(() => {
        this.#asking = null
      })
      const given = await this.#asking
      // What was given may be gone to others who waited; where nothing was, the second is spent.
      if (given === 0) await sleep(Math.max(5, this.#untilMs - Date.now()), undefined, signal ? { signal } : {})
    }
    this.#left--
    return mostADay === null || this.#countDay(mostADay)
  }

  async #ask(): Promise<number> {
    // A tenth of a second's worth: what a process leaves unused does not keep the others waiting for long.
    const wanted = Math.max(1, Math.round(this.#perSecond / 10))
    // A rate below one a second has a longer stretch with one request in it.
    const stretch = Math.max(1, Math.ceil(1 / this.#perSecond))
    const most = Math.max(1, Math.floor(this.#perSecond * stretch))
    const { rows } = await this.#pool.query<{ given: number; leftMs: number }>(
      `with now as (select floor(extract(epoch from clock_timestamp()) / $4)::bigint s,
         extract(epoch from clock_timestamp()) t),
       before as (select requests, second from source_second where source = $1 for update),
       given as (select s, t, least($2, greatest(0, $3 - coalesce((select requests from before
       where second = s), 0)))::integer n from now),
       kept as (insert into source_second (source, second, requests) select $1, s, n from given
         on conflict (source) do update set second = excluded.second,
           requests = case when source_second.second = excluded.second then source_second.requests
           else 0 end + excluded.requests)
       select n given, (((s + 1) * $4 - t) * 1000)::float8 "leftMs" from given`,
      [this.#source, wanted, most, stretch],
    )
    this.#left = rows[0]!.given
    this.#untilMs = Date.now() + rows[0]!.leftMs
    return rows[0]!.given
  }

  async #countDay(most: number): Promise<boolean> {
    const { rowCount } = await this.#pool.query(
      `insert into source_day as d (source, day, requests)
       select $1, (now() at time zone 'utc')::date, 1 + coalesce((select requests from source_use
         where source = $1 and day = (now() at time zone 'utc')::date), 0)
       on conflict (source) do update set day = excluded.day,
         requests = case when d.day = excluded.day then d.requests + 1 else 1 end
       where d.day <> excluded.day or d.requests < $2 returning 1`,
      [this.#source, most],
    )
    return rowCount === 1
  }
}

/** Keeps requests to a host apart in time over all processes. */
export class SharedTurns {
  readonly #pool: pg.Pool

  constructor(pool: pg.Pool) {
    this.#pool = pool
  }

  /** Takes the next turn at a host and gives how long to wait for it, in milliseconds. */
  async take(host: string, delayMs: number): Promise<number> {
    const { rows } = await this.#pool.query<{ wait: number }>(
      `insert into host_turn as h (host, next_at) values ($1, clock_timestamp() + $2 * interval '1 ms')
       on conflict (host) do update set next_at = greatest(h.next_at, clock_timestamp()) + $2 * interval '1 ms'
       returning (extract(epoch from next_at - clock_timestamp()) * 1000 - $2)::float8 wait`,
      [host, delayMs],
    )
    return Math.max(0, rows[0]!.wait)
  }

  /** Leaves a host alone for so long. */
  async leaveAlone(host: string, forMs: number): Promise<void> {
    await this.#pool.query(
      `insert into host_turn as h (host, next_at) values ($1, clock_timestamp() + $2 * interval '1 ms')
       on conflict (host) do update set next_at = greatest(h.next_at, excluded.next_at)`,
      [host, forMs],
    )
  }
}
