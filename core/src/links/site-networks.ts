/** Thresholds of `findNetworks`. */
export const networkDefaults = {
  /** Fewest sites that make a network. */
  leastSites: 4,
  /** Share of the others of its group that a member must be tied to. */
  leastTied: 0.5,
  /** Two sites are tied when one links to the other, or when what they link to is this alike (0–1). */
  leastSimilarity: 0.5,
  /** Mean doubt of the members; sites whose doubt is unknown are left out of the mean. */
  leastDoubt: 0.6,
  /** Share of the sites linking to members, counted for each, that are members. */
  leastInside: 0.3,
  /** Share of pairs that must be tied where nobody is known to link to any member, which leaves only what they give to judge them by. */
  leastTiedUnknown: 0.8,
  /** Share of the pairs between two groups that must be tied for them to be one network. */
  leastAcross: 0.3,
} as const

/** A site: its IPv4 addresses, its doubt (at most 1; `null` unknown), and the numbers of the sites it links to with its linking pages. */
export type NetworkSite = {
  addresses: readonly string[]
  doubt: number | null
  linksTo: ReadonlyMap<number, number>
}
export type SiteNetwork = { members: number[]; reasons: string[] }

const blockOf = (address: string): string | null => /^(\d+\.\d+\.\d+)\.\d+$/.exec(address)?.[1] ?? null

/**
 * Groups of sites that look as if they were made to give links: they share an address block (/24), each is tied to at least half of the
 * others (one links to the other, or both give most of their links to the same sites), much of what links to them are they themselves, and
 * what rank they have comes from nobody vetted. Sharing a block alone says nothing, since hosts put many strangers in one; groups of different blocks that are tied are one network.
 * Likeness of what two sites link to is the cosine of (1 + log2 linking pages)·ln(sites / sites linking there), so that sites everybody
 * links to count for nothing. Every group comes with its reasons. Members are indexes into `sites`, largest group first.
 * O(sites + links + Σ block size² · links a site).
 */
export function findNetworks(
  sites: readonly NetworkSite[],
  options: Partial<Record<keyof typeof networkDefaults, number>> = {},
): SiteNetwork[] {
  const { leastSites, leastTied, leastSimilarity, leastDoubt, leastInside, leastTiedUnknown, leastAcross } = {
    ...networkDefaults,
    ...options,
  }
  const given = giftsOf(sites)
  const linkers = new Map<number, number[]>()
  sites.forEach((site, i) => {
    for (const to of site.linksTo.keys()) linkers.get(to)?.push(i) ?? linkers.set(to, [i])
  })
  const linked = (a: number, b: number): boolean =>
    sites[a]!.linksTo.has(b) || sites[b]!.linksTo.has(a) || cosine(given[a]!, given[b]!) >= leastSimilarity
  const blocks = new Map<string, Set<number>>()
  sites.forEach((site, i) => {
    for (const address of site.addresses) {
      const block = blockOf(address)
      if (!block) continue
      const members = blocks.get(block) ?? new Set()
      blocks.set(block, members.add(i))
    }
  })
  const groups: Array<{ members: number[]; blocks: string[] }> = []
  const taken = new Set<number>()
  for (const [block, all] of [...blocks].sort((a, b) => b[1].size - a[1].size || (a[0] < b[0] ? -1 : 1))) {
    const members = densePart(
      [...all].filter(i => !taken.has(i)),
      linked,
      leastTied,
    )
    if (members.length < leastSites || meanDoubt(sites, members) < leastDoubt) continue
    const inside = shareInside(linkers, members)
    if (inside === null ? shareTied(members, linked) < leastTiedUnknown : inside < leastInside) continue
    for (const i of members) taken.add(i)
    groups.push({ members, blocks: [block] })
  }
  for (let again = true; again; ) {
    again = false
    for (let a = 0; a < groups.length && !again; a++)
      for (let b = a + 1; b < groups.length && !again; b++) {
        const pairs = groups[a]!.members.flatMap(x => groups[b]!.members.map(y => linked(x, y)))
        if (pairs.filter(Boolean).length < leastAcross * pairs.length) continue
        groups[a]!.members.push(...groups[b]!.members)
        groups[a]!.blocks.push(...groups[b]!.blocks)
        groups.splice(b, 1)
        again = true
      }
  }
  return groups
    .sort((a, b) => b.members.length - a.members.length || a.members[0]! - b.members[0]!)
    .map(({ members, blocks: shared }) => {
      const doubt = meanDoubt(sites, members)
      const inside = shareInside(linkers, members)
      return {
        members: members.sort((a, b) => a - b),
        reasons: [
          `${members.length} sites share the address ${shared.length === 1 ? 'block' : 'blocks'} ${shared.map(each => `${each}.0/24`).join(' and ')}`,
          `${Math.round(100 * shareTied(members, linked))} % of their pairs link each other or give their links to the same sites`,
          ...(inside === null ? [] : [`${Math.round(100 * inside)} % of the sites that link to them are among them`]),
          members.some(i => sites[i]!.doubt !== null)
            ? `${Math.round(100 * Math.min(1, doubt))} % of their rank comes from no vetted site`
            : 'nobody is known to link to them',
        ],
      }
    })
}

/** What each site gives to others, weighted and scaled to length 1. */
function giftsOf(sites: readonly NetworkSite[]): Array<Map<number, number>> {
  const linkers = new Map<number, number>()
  for (const site of sites) for (const to of site.linksTo.keys()) linkers.set(to, (linkers.get(to) ?? 0) + 1)
  return sites.map(site => {
    const gifts = new Map<number, number>()
    let square = 0
    for (const [to, pages] of site.linksTo) {
      const weight = (1 + Math.log2(Math.max(1, pages))) * Math.log(sites.length / linkers.get(to)!)
      gifts.set(to, weight)
      square += weight * weight
    }
    if (square > 0) for (const [to, weight] of gifts) gifts.set(to, weight / Math.sqrt(square))
    return gifts
  })
}
function cosine(a: ReadonlyMap<number, number>, b: ReadonlyMap<number, number>): number {
  let sum = 0
  for (const [to, weight] of a) sum += weight * (b.get(to) ?? 0)
  return sum
}

/** Takes the least tied site away until each of the rest is tied to at least `share` of the others. */
function densePart(members: number[], linked: (a: number, b: number) => boolean, share: number): number[] {
  let rest = members
  while (rest.length > 1) {
    const degrees = rest.map(x => rest.filter(y => y !== x && linked(x, y)).length)
    const least = Math.min(...degrees)
    if (least >= share * (rest.length - 1)) break
    const at = degrees.indexOf(least)
    rest = rest.filter((_, i) => i !== at)
  }
  return rest
}

function shareTied(members: readonly number[], linked: (a: number, b: number) => boolean): number {
  const pairs = members.flatMap((x, i) => members.slice(i + 1).map(y => linked(x, y)))
  return pairs.filter(Boolean).length / pairs.length
}

/** Share of the sites linking to members that are members themselves, `null` when there are none. */
function shareInside(linkers: ReadonlyMap<number, readonly number[]>, members: readonly number[]): number | null {
  const inside = new Set(members)
  const all = members.flatMap(i => linkers.get(i) ?? [])
  return all.length ? all.filter(from => inside.has(from)).length / all.length : null
}

/** Mean of the known doubts, 1 when none is known: nobody vouches for them. */
function meanDoubt(sites: readonly NetworkSite[], members: readonly number[]): number {
  const known = members.flatMap(i => sites[i]!.doubt ?? [])
  return known.length ? known.reduce((sum, each) => sum + each, 0) / known.length : 1
}
