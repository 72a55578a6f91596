import { type RefObject, useEffect, useLayoutEffect, useRef } from 'react'
import { useLocation } from 'react-router'

/** How far tables were scrolled, by address without the market: for as long as the program is open. */
const kept = new Map<string, number>()

/** The trail names the market in its links, the first address of a visit does not. */
function keyOf(pathname: string, search: string): string {
  const params = new URLSearchParams(search)
  params.delete('market')
  return `${pathname}?${params}`
}

/** Scrolls a table to where it was when its address was left; `height`: of its rows, which come a moment later than the table. */
export function useKeptScroll(box: RefObject<HTMLDivElement | null>, height: number): void {
  const { pathname, search } = useLocation()
  const key = keyOf(pathname, search)
  const wanted = useRef(kept.get(key) ?? 0)
  const latest = useRef(key)
  latest.current = key
  useLayoutEffect(() => {
    const element = box.current
    if (!element || !wanted.current || height <= wanted.current) return
    element.scrollTop = wanted.current
    wanted.current = 0
  }, [box, height])
  useEffect(() => {
    const element = box.current
    if (!element) return
    const onScroll = () => {
      if (wanted.current && element.scrollTop) wanted.current = 0
      kept.set(latest.current, element.scrollTop)
    }
    element.addEventListener('scroll', onScroll, { passive: true })
    return () => element.removeEventListener('scroll', onScroll)
  }, [box])
}
