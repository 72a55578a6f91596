import { isoOf } from '../calendar.ts'
import type { World } from '../world/world.ts'

const event = (eventAction: string, day: number): object => ({ eventAction, eventDate: `${isoOf(day)}T08:00:00Z` })
const person = (roles: string[], lines: Array<[string, string]>): object => ({
  objectClassName: 'entity',
  roles,
  vcardArray: [
    'vcard',
    [
      ['version', {}, 'text', '4.0'],
      ...lines.map(([name, value]) => [name, {}, name === 'tel' ? 'uri' : 'text', value]),
    ],
  ],
})

/** RDAP (RFC 9083) answer for a domain, or undefined where nobody has registered it. */
export function rdapDomain(world: World, domain: string, day: number): object | undefined {
  const site = world.byDomain.get(domain)
  if (!site || site.registered > day) return undefined
  const years = Math.ceil((day - site.registered + 1) / 365)
  return {
    objectClassName: 'domain',
    rdapConformance: ['rdap_level_0'],
    ldhName: domain,
    handle: `D${site.id}-TARROW`,
    status: ['active'],
    events: [
      event('registration', site.registered),
      event('last changed', site.registered + 365 * (years - 1)),
      event('expiration', site.registered + 365 * years),
    ],
    entities: [
      person(
        ['registrant'],
        [
          ['fn', site.owner],
          ['email', site.email],
          ['tel', `tel:${site.phone.replaceAll(' ', '-')}`],
          ['adr', site.street],
        ],
      ),
      person(['registrar'], [['fn', 'Tarrow Names']]),
    ],
    nameservers: [{ objectClassName: 'nameserver', ldhName: site.nameserver }],
    secureDNS: { delegationSigned: site.id % 3 === 0 },
  }
}

/** RDAP answer for an address: the subnet of 256 it lies in and who holds it. */
export function rdapNetwork(world: World, address: string): object | undefined {
  const subnet = address.split('.').slice(0, 3).join('.')
  const sites = world.sites.filter(site => site.address.startsWith(`${subnet}.`))
  if (!sites.length || !/^\d+\.\d+\.\d+\.\d+$/.test(address)) return undefined
  const holder = sites.every(site => site.owner === sites[0]!.owner)
    ? sites[0]!.owner
    : `Hosting ${subnet.split('.')[2]}`
  return {
    objectClassName: 'ip network',
    rdapConformance: ['rdap_level_0'],
    handle: `NET-${subnet.replaceAll('.', '-')}`,
    startAddress: `${subnet}.0`,
    endAddress: `${subnet}.255`,
    ipVersion: 'v4',
    name: holder,
    entities: [person(['registrant'], [['fn', holder]])],
  }
}

/** What a name resolves to, in the JSON form of DNS over HTTPS that public resolvers speak. Status 3 = no such name. */
export function resolveName(world: World, name: string, type: string, day: number): object {
  const site = world.byHost.get(name)
  const there = site && site.registered <= day
  const answer = !there
    ? []
    : type === 'NS'
      ? [{ name, type: 2, TTL: 3600, data: `${site.nameserver}.` }]
      : type === 'A'
        ? [{ name, type: 1, TTL: 3600, data: site.address }]
        : []
  return { Status: there ? 0 : 3, Question: [{ name, type: type === 'NS' ? 2 : 1 }], Answer: answer }
}
