/** Where the event stream of sites is (`eventsQuery` in jobs.ts). By itself, so that the worker which asks for it is a small file. */
export const eventsPath = (siteIds: readonly number[]): string => `/api/events?siteIds=${siteIds.join(',')}`
