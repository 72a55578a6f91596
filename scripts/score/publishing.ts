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
