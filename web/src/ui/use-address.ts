import { useCallback, useEffect, useMemo, useRef } from 'react'
import { useLocation, useNavigate, useNavigationType } from 'react-router'
import { AddressDraft } from './address-draft.ts'

// One window has one address, so all parts of a screen share what is under way.
const draft = new AddressDraft()

/**
 * The search part of the address and a way to change it that loses no other change made a moment before. With `push` the browser's Back
 * undoes the change; without it, what was before is replaced.
 */
export function useAddress(): [URLSearchParams, (edit: (params: URLSearchParams) => void, push?: boolean) => void] {
  const location = useLocation()
  const navigate = useNavigate()
  const type = useNavigationType()
  const params = useMemo(() => new URLSearchParams(location.search), [location.search])
  const latest = useRef({ location, navigate })
  latest.current = { location, navigate }
  useEffect(() => draft.arrived(location, type === 'POP'), [location, type])
  const change = useCallback((edit: (params: URLSearchParams) => void, push = false) => {
    const search = draft.change(latest.current.location, edit)
    void latest.current.navigate({ search }, { replace: !push })
  }, [])
  return [params, change]
}

/** Sets one parameter, or takes it away when the value is null. */
export const setParam =
  (name: string, value: string | null) =>
  (params: URLSearchParams): void => {
    if (value === null) params.delete(name)
    else params.set(name, value)
  }
