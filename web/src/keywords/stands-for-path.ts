/** The address of the list of keywords for which a site or page stands in fetched results, under Rivals. */
export const standsForPath = (siteId: number, marketId: number, target: string): string =>
  `/${siteId}/rivals?${new URLSearchParams([
    ['market', String(marketId)],
    ['see', 'keywords'],
    ['of', target],
    ['where', 'fed:no'],
    ['where', 'now:to:100'],
  ])}`
