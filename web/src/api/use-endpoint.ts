import type { Endpoint } from '@dew-trail/contract/endpoint'
import {
  keepPreviousData,
  type QueryClient,
  useQuery,
  type UseQueryOptions,
  type UseQueryResult,
} from '@tanstack/react-query'
import type { z } from 'zod'
import { call } from './call.ts'

type Options = Pick<UseQueryOptions, 'refetchInterval' | 'staleTime' | 'retry'> & {
  /** Whether to ask at all, yes by default. */
  enabled?: boolean
  /** Whether what was shown for another input stays until the answer comes. */
  keep?: boolean
}

/** An endpoint's answer, asked again when it is old (`Endpoint.oldBy`). Path and input are the key under which it is held. */
export function useEndpoint<Input extends z.ZodType, Output extends z.ZodType>(
  spec: Endpoint<Input, Output>,
  input: z.input<Input>,
  { keep = false, ...options }: Options = {},
): UseQueryResult<z.output<Output>> {
  return useQuery({
    queryKey: keyOf(spec, input),
    queryFn: () => call(spec, input),
    meta: { oldBy: spec.oldBy },
    ...options,
    ...(keep ? { placeholderData: keepPreviousData } : {}),
  }) as UseQueryResult<z.output<Output>>
}

/** The key of an endpoint's answers: of one input, or of all without one. */
export const keyOf = (spec: Pick<Endpoint, 'path'>, input?: unknown): readonly unknown[] =>
  input === undefined ? [spec.path] : [spec.path, input]

/** Asks again for all answers of endpoints that somebody sees, after a change that no event tells of. */
export async function askAgain(client: QueryClient, ...specs: Array<Pick<Endpoint, 'path'>>): Promise<void> {
  await Promise.all(specs.map(spec => client.invalidateQueries({ queryKey: keyOf(spec) })))
}
