import type { Endpoint } from '@dew-trail/contract/endpoint'
import type { z } from 'zod'
import { useEndpoint } from './use-endpoint.ts'

/** Rows that are asked for first, so that a screen is full while the others come. */
export const firstRows = 200

/** A list from the server: its first rows at once, then all of them. `coming`: the rest is under way. */
export function useFirstRows<Input extends z.ZodType, Output extends z.ZodType<{ total: number }>>(
  spec: Endpoint<Input, Output>,
  input: Omit<z.input<Input>, 'most'>,
): { data: z.output<Output> | undefined; error: Error | null; coming: boolean } {
  const first = useEndpoint(spec, { ...input, most: firstRows } as z.input<Input>)
  const isMore = (first.data?.total ?? 0) > firstRows
  const all = useEndpoint(spec, input as z.input<Input>, { enabled: isMore })
  return { data: all.data ?? first.data, error: first.error ?? all.error, coming: isMore && !all.data }
}
