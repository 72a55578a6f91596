const day = 86_400_000

type TruePage = { url: string; gone: string | null }
type TrueLink = { source: string; target: string; rel: number; born: string; died: string | null }
export type TrueSite = { domain: string; kind: string; language: string; network: boolean; authority: number }
export type Ask = <T>(path: string, body?: unknown) => Promise<T>

/** Asks a stand-in's truth port; a body is sent as JSON. */
export const truthOf =
  (truth: string): Ask =>
  async <T>(path: string, body?: unknown): Promise<T> =>
    (await (
      await fetch(truth + path, body === undefined ? {} : { method: 'POST', body: JSON.stringify(body) })
    ).json()) as T

/** A page of some 400 words that speaks of a phrase, as a writer who wants to be found for it would. */
const textAbout = (phrase: string): string =>
  Array.from({ length: 26 }, (_, i) =>
    i % 3
      ? 'We tried what is said about it, wrote down what worked and what did not, and say so here.'
      : `About ${phrase}: what to look for, what it costs and how long it lasts.`,
  ).join(' ')

/**
 * Pages of sites that link to a site anyway, one each, by site: links from others would raise the site's own standing, and what is asked is
 * how a new page does on the site as it stands.
 */
export async function linkersOf(ask: Ask, sites: readonly TrueSite[]): Promise<(domain: string) => string[]> {
  const siteOf = (url: string): string =>
    sites.find(({ domain }) => `.${new URL(url).hostname}`.endsWith(`.${domain}`))?.domain ?? ''
  const gone = new Set((await ask<TruePage[]>('/pages')).flatMap(page => (page.gone ? [page.url] : [])))
  const links = (await ask<TrueLink[]>('/links')).filter(
    link => link.rel === 0 && !link.died && !gone.has(link.source) && Date.parse(link.born) < Date.now() - 90 * day,
  )
  return domain => [
    ...new Map(
      links
        .filter(link => siteOf(link.target) === domain && siteOf(link.source) !== domain)
        .map((link): [string, string] => [siteOf(link.source), link.source]),
    ).values(),
  ]
}

/** Puts a new, fitting page for each phrase on a site, as of some days ago, each with links from two of `linkers`. Gives their addresses. */
export const publishPages = (
  ask: Ask,
  { domain, linkers, daysAgo, from }: { domain: string; linkers: readonly string[]; daysAgo: number; from: number },
  phrases: readonly string[],
): Promise<string[]> =>
  ask<string[]>(
    '/publish',
    phrases.map((phrase, i) => ({
      site: domain,
      title: phrase,
      description: `${phrase}: what to look for, what it costs and how long it lasts.`,
      text: textAbout(phrase),
      links: [0, 1].map(link => linkers[((from + i) * 2 + link) % linkers.length]!),
      date: new Date(Date.now() - daysAgo * day).toISOString().slice(0, 10),
    })),
  )

/** Pages that are published at once, far from each other in the alphabet, so that none stands in another's way. */
const [atOnce, settledDays] = [12, 90]
/**
 * True visits a month of a new page for each phrase on a site, 90 days after it was published, by phrase: a few are published at a time, and
 * taken back before the next.
 */
export async function trueVisits(ask: Ask, domain: string, phrases: readonly string[]): Promise<Map<string, number>> {
  const linkers = (await linkersOf(ask, await ask<TrueSite[]>('/sites')))(domain)
  const sorted = phrases.toSorted()
  const batches = Math.ceil(sorted.length / atOnce)
  const visits = new Map<string, number>()
  for (let batch = 0; batch < batches; batch++) {
    const some = sorted.filter((_, i) => i % batches === batch)
    const addresses = await publishPages(ask, { domain, linkers, daysAgo: settledDays, from: batch * atOnce }, some)
    const { pages } = await ask<{ pages: Array<{ url: string; visits: number }> }>('/visits', [])
    const byAddress = new Map(pages.map(page => [page.url, page.visits]))
    for (const [i, phrase] of some.entries()) visits.set(phrase, byAddress.get(addresses[i]!) ?? 0)
    await ask('/unpublish')
  }
  return visits
}
