import { pageAddress } from './page-address.ts'

/** Names of hosts, also in the letters of any script. */
const labels = /^[\p{L}\p{M}\p{N}_-]+(\.[\p{L}\p{M}\p{N}_-]+)*$/u

/**
 * Address that a vertex of a web graph stands for: an address of the web as it is, a host name as its home page. `reversed` host names
 * begin with the top-level domain ("example.clayharbour.www"). `null` for what is neither.
 */
export function vertexAddress(name: string, reversed: boolean): string | null {
  if (name.includes('://')) return pageAddress(name)
  if (!labels.test(name) || !name.includes('.')) return null
  return pageAddress(`http://${reversed ? name.split('.').toReversed().join('.') : name}/`)
}

/**
 * Whether host names of a web graph are written from the top-level domain on, told from a sample: then far fewer different words begin
 * the names than end them. Addresses with a scheme are not looked at; a tie counts as not reversed.
 */
export function namesReversed(names: readonly string[]): boolean {
  const hosts = names.filter(name => !name.includes('://') && labels.test(name) && name.includes('.'))
  const firsts = new Set(hosts.map(name => name.slice(0, name.indexOf('.'))))
  const lasts = new Set(hosts.map(name => name.slice(name.lastIndexOf('.') + 1)))
  // Ranked by number where it differs: a file of hosts has some top-level domains and many names.
  return hosts.length > 1 && firsts.size < lasts.size
}
