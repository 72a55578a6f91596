import { QueryClient } from '@tanstack/react-query'

/**
 * The cache of what the server said, and the record of changes under way. Nothing waits for the browser to call itself online: the server
 * may be this machine, which answers without a network.
 */
export const makeClient = ({ retry }: { retry: number | false } = { retry: 1 }): QueryClient =>
  new QueryClient({
    defaultOptions: {
      queries: { retry, staleTime: 5_000, placeholderData: (before: unknown) => before, networkMode: 'always' },
      mutations: { networkMode: 'always' },
    },
  })
