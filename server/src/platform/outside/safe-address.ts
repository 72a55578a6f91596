import { lookup as dnsLookup, type LookupAddress, type LookupOptions } from 'node:dns'
import { BlockList, isIP } from 'node:net'
import PQueue from 'p-queue'

/** A request that is not made because of where it would go. */
export class UnsafeAddress extends Error {
  readonly code = 'UNSAFE_ADDRESS'
}

/** Everything of IPv4 that is not the public internet (IANA IPv4 Special-Purpose Address Registry, and multicast). */
const specialIpv4 = listOf(
  '0.0.0.0/8, 10.0.0.0/8, 100.64.0.0/10, 127.0.0.0/8, 169.254.0.0/16, 172.16.0.0/12, 192.0.0.0/24, 192.0.2.0/24, 192.31.196.0/24, 192.52.193.0/24, 192.88.99.0/24, 192.168.0.0/16, 192.175.48.0/24, 198.18.0.0/15, 198.51.100.0/24, 203.0.113.0/24, 224.0.0.0/4, 240.0.0.0/4',
)
/** Of IPv6 only global unicast is public, less what is set apart in it: Teredo, benchmarks, ORCHID, documentation, 6to4 (RFC 4291, IANA). */
const globalIpv6 = listOf('2000::/3')
const specialIpv6 = listOf('2001::/23, 2001:db8::/32, 2002::/16, 2620:4f:8000::/48, 3fff::/20')

export type Ranges = { list: BlockList; any: boolean }

/** Ranges such as `10.1.0.0/16, fd00::/8`; throws on anything else. */
export function readRanges(text: string): Ranges {
  return { list: listOf(text), any: text.trim() !== '' }
}

function listOf(text: string): BlockList {
  const list = new BlockList()
  for (const part of text.split(',').map(each => each.trim())) {
    if (!part) continue
    const [network = '', bits = '', more] = part.split('/')
    const kind = isIP(network)
    if (!kind || more !== undefined || !/^\d{1,3}$/.test(bits)) throw new RangeError(`${part} is no range`)
    list.addSubnet(network, Number(bits), kind === 4 ? 'ipv4' : 'ipv6')
  }
  return list
}

/** Whether a list has an address; an IPv4 address in IPv6 clothes counts as itself. */
function has(list: BlockList, address: string): boolean {
  return list.check(address, isIP(address) === 4 ? 'ipv4' : 'ipv6')
}

const isAllowed = (address: string, { list }: Ranges): boolean => !address.includes('%') && has(list, address)

/**
 * Whether an IP address may be asked: public unicast ones, and what the configuration allows. Loopback, private, link-local,
 * carrier-grade, multicast, benchmark, documentation and other special ranges are not, and no IPv4 address hidden in an IPv6 one.
 */
export function isSafeIp(address: string, allowed: Ranges): boolean {
  const kind = isIP(address)
  if (!kind || address.includes('%')) return false
  if (isAllowed(address, allowed)) return true
  return kind === 4 ? !has(specialIpv4, address) : has(globalIpv6, address) && !has(specialIpv6, address)
}

/** Names that only mean something inside a network: those of one word, and those set apart for it (RFC 6762, RFC 8375, ICANN). */
const innerName = /(^|\.)(localhost|local|internal|intranet|private|corp|home|lan|home\.arpa)$|^[^.]+$/

/** How long a name that is asked through a proxy may take to be resolved here, and how long the answer is good. */
const lookupMs = 2_000
const goodForMs = 60_000
/** Lookups block one of Node's few threads each. */
const lookups = new PQueue({ concurrency: 2 })

type LookupDone = (error: Error | null, address: string | LookupAddress[], family?: number) => void

/** Decides which hosts may be asked. */
export class AddressGuard {
  readonly #allowed: Ranges
  readonly #resolve: (host: string) => Promise<string[]>
  readonly #known = new Map<string, { addresses: Promise<string[]>; untilMs: number }>()

  /** `resolve` gives the addresses of a name on this machine, none where it has none. */
  constructor(allowed: Ranges, resolve = resolveHere) {
    this.#allowed = allowed
    this.#resolve = resolve
  }

  /**
   * Refuses an address by its host: IP literals that are not public, names of an inner network, and names that lead inside by what this
   * machine knows of them. A proxy resolves names itself, so this must be asked before it is; what has no address here is left to it.
   */
  async check(url: URL, throughProxy: boolean): Promise<void> {
    const host = url.hostname.replace(/^\[|\]$/g, '').replace(/\.$/, '')
    if (isIP(host)) {
      if (!isSafeIp(host, this.#allowed)) throw new UnsafeAddress(`${host} is not a public address`)
      return
    }
    const inner = innerName.test(host)
    if (inner && !this.#allowed.any) throw new UnsafeAddress(`${host} is a name of an inner network`)
    if (!inner && !throughProxy) return
    const addresses = await this.#addressesOf(host)
    const bad = addresses.find(
      address => !(inner ? isAllowed(address, this.#allowed) : isSafeIp(address, this.#allowed)),
    )
    if (bad) throw new UnsafeAddress(`${host} leads to ${bad}, which is not a public address`)
    if (inner && !addresses.length) throw new UnsafeAddress(`${host} is a name of an inner network`)
  }

  #addressesOf(host: string): Promise<string[]> {
    const known = this.#known.get(host)
    if (known && known.untilMs > Date.now()) return known.addresses
    if (this.#known.size > 5_000) this.#known.clear()
    const addresses = this.#resolve(host)
    this.#known.set(host, { addresses, untilMs: Date.now() + goodForMs })
    return addresses
  }

  /** Resolves a name and refuses it if any of its addresses is not public: the check is made on the very addresses that are connected to. */
  readonly lookup = (host: string, options: LookupOptions, done: LookupDone): void => {
    dnsLookup(host, { ...options, all: true }, (error, addresses) => {
      if (error) {
        done(error, [])
        return
      }
      const bad = addresses.find(each => !isSafeIp(each.address, this.#allowed))
      if (bad) done(new UnsafeAddress(`${host} leads to ${bad.address}, which is not a public address`), [])
      else if (options.all) done(null, addresses)
      else done(null, addresses[0]!.address, addresses[0]!.family)
    })
  }
}

async function resolveHere(host: string): Promise<string[]> {
  const asking = lookups.add(
    () =>
      new Promise<string[]>(resolve =>
        dnsLookup(host, { all: true }, (error, found) => resolve(error ? [] : found.map(each => each.address))),
      ),
  ) as Promise<string[]>
  let clock: NodeJS.Timeout | undefined
  const given = new Promise<string[]>(resolve => {
    clock = setTimeout(() => resolve([]), lookupMs)
  })
  return await Promise.race([asking, given]).finally(() => clearTimeout(clock))
}
