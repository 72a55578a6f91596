import type { Endpoint } from '@dew-trail/contract/endpoint'
import { conditionText, sortText } from '@dew-trail/core/tables/condition-text'
import { useEffect, useRef, useState } from 'react'
import type { z } from 'zod'
import { useEndpoint } from '../api/use-endpoint.ts'
import { firstRows } from '../api/use-first-rows.ts'
import type { SheetState } from './use-sheet-state.ts'

const typingMs = 300

/**
 * A list of which the server gives the first rows at once, then as many as are listed at most. Of one with more, conditions and order are asked of
 * the server, so that they hold for all rows and not for those that happen to be here. `coming`: the rest is under way; `total`: rows without
 * conditions, as a table tells them: those that are here, or under conditions all there are.
 */
export function useListed<Input extends z.ZodType, Output extends z.ZodType<{ rows: unknown[]; total: number }>>(
  spec: Endpoint<Input, Output>,
  input: Omit<z.input<Input>, 'most' | 'where' | 'sort'>,
  mostListed: number,
  state: SheetState,
) {
  const first = useEndpoint(spec, { ...input, most: firstRows } as z.input<Input>)
  const all = first.data?.total ?? 0
  const sifted = useRested({ where: state.where.map(conditionText), sort: sortText(state.sort) })
  const rest = useEndpoint(spec, (all > mostListed ? { ...input, ...sifted } : input) as z.input<Input>, {
    enabled: all > firstRows,
    keep: true,
  })
  // What is kept while another order is asked for must be of the same list.
  const key = JSON.stringify(input)
  const keptOf = useRef(key)
  if (rest.data && !rest.isPlaceholderData) keptOf.current = key
  const whole = rest.data && keptOf.current === key ? rest.data : undefined
  const data = whole ?? first.data
  return {
    data,
    error: first.error ?? rest.error,
    coming: all > firstRows && !whole,
    total: state.where.length ? all : (data?.rows.length ?? 0),
  }
}

/** A value once it has not changed for a moment. */
function useRested<Value>(value: Value): Value {
  const text = JSON.stringify(value)
  const [rested, setRested] = useState(text)
  useEffect(() => {
    const timer = setTimeout(() => setRested(text), typingMs)
    return () => clearTimeout(timer)
  }, [text])
  return JSON.parse(rested) as Value
}
