import { lookup as dnsLookup, type LookupAddress, type LookupOptions } from 'node:dns'
import { isIP } from 'node:net'
import ipaddr from 'ipaddr.js'

/** A request that is not made because of where it would go. */
export class UnsafeAddress extends Error {
  readonly code = 'UNSAFE_ADDRESS'
}

type Range = [ipaddr.IPv4 | ipaddr.IPv6, number]

/** Ranges such as `10.1.0.0/16`; throws on anything else. */
export function readRanges(text: string): Range[] {
  return text
    .split(',')
    .map(part => part.trim())
    .filter(Boolean)
    .map(part => ipaddr.parseCIDR(part))
}

/**
 * Whether an IP address may be asked: public unicast ones, and what the configuration allows. Loopback, private, link-local,
 * carrier-grade, multicast, documentation and other special ranges are not, and no IPv4 address hidden in an IPv6 one.
 */
export function isSafeIp(address: string, allowed: readonly Range[]): boolean {
  if (!ipaddr.isValid(address)) return false
  const parsed = ipaddr.process(address)
  if (
    allowed.some(
      ([network, bits]) =>
        parsed.kind() === network.kind() && (parsed as ipaddr.IPv4).match(network as ipaddr.IPv4, bits),
    )
  )
    return true
  return parsed.range() === 'unicast'
}

const innerName = /(^|\.)(localhost|local|internal|intranet|lan|home\.arpa)$/

/**
 * Refuses an address by its host alone: IP literals that are not public, and names that only mean something inside a network. Needed
 * besides the check after resolution, because a proxy resolves names itself.
 */
export function needSafeHost(url: URL, allowed: readonly Range[]): void {
  const host = url.hostname.replace(/^\[|\]$/g, '').replace(/\.$/, '')
  if (isIP(host)) {
    if (!isSafeIp(host, allowed)) throw new UnsafeAddress(`${host} is not a public address`)
  } else if (innerName.test(host) && !allowed.length) throw new UnsafeAddress(`${host} is a name of an inner network`)
}

type LookupDone = (error: Error | null, address: string | LookupAddress[], family?: number) => void

/** Resolves a name and refuses it if any of its addresses is not public: the check is made on the very addresses that are connected to. */
export const safeLookup =
  (allowed: readonly Range[]) =>
  (host: string, options: LookupOptions, done: LookupDone): void => {
    dnsLookup(host, { ...options, all: true }, (error, addresses) => {
      if (error) {
        done(error, [])
        return
      }
      const bad = addresses.find(each => !isSafeIp(each.address, allowed))
      if (bad) done(new UnsafeAddress(`${host} leads to ${bad.address}, which is not a public address`), [])
      else if (options.all) done(null, addresses)
      else done(null, addresses[0]!.address, addresses[0]!.family)
    })
  }
