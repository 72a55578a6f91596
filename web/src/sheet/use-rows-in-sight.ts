import { useCallback, useRef, useState } from 'react'
import { flushSync } from 'react-dom'
import type { RowOffsets } from './row-offsets.ts'

/** Rows drawn above and below those in sight. */
const beside = 5
type Sight = { top: number; height: number }

/**
 * Which rows of a list stand in the window that scrolls it. `head` is the height of what covers the window's top. Draws again only when
 * other rows come into sight, at once, so that scrolling shows no gaps. `offsets` is asked with every drawing and costs little.
 */
export function useRowsInSight(offsets: RowOffsets, head: number) {
  const box = useRef<HTMLDivElement | null>(null)
  const sight = useRef<Sight>({ top: 0, height: 0 })
  const latest = useRef(offsets)
  latest.current = offsets
  const drawn = useRef({ first: 0, end: 0 })
  const [, draw] = useState(0)

  const rangeOf = (): { first: number; end: number } => {
    const { count, height } = latest.current
    if (!sight.current.height) return { first: 0, end: 0 }
    // A list that became shorter is scrolled back by the browser only after it is drawn.
    const top = Math.max(0, Math.min(sight.current.top, height - sight.current.height))
    return {
      first: Math.max(0, latest.current.rowAt(top) - beside),
      end: Math.min(count, latest.current.rowAt(top + sight.current.height) + 1 + beside),
    }
  }

  // biome-ignore lint/correctness/useExhaustiveDependencies: what it reads are refs.
  const attach = useCallback((element: HTMLDivElement | null) => {
    box.current = element
    if (!element) return
    const look = (atOnce: boolean): void => {
      sight.current = { top: element.scrollTop, height: Math.max(0, element.clientHeight - head) }
      const { first, end } = rangeOf()
      if (first === drawn.current.first && end === drawn.current.end) return
      if (atOnce) flushSync(() => draw(count => count + 1))
      else draw(count => count + 1)
    }
    const onScroll = (): void => look(true)
    element.addEventListener('scroll', onScroll, { passive: true })
    const observer = new ResizeObserver(() => look(false))
    observer.observe(element)
    look(false)
    return () => {
      element.removeEventListener('scroll', onScroll)
      observer.disconnect()
      box.current = null
    }
  }, [])

  const scrollTo = useCallback((index: number): void => {
    const element = box.current
    // Where it stands now: what scrolled a moment ago may not have been heard of yet.
    element?.scrollTo({ top: latest.current.scrollFor(index, element.scrollTop, sight.current.height) })
  }, [])

  drawn.current = rangeOf()
  return { box, attach, scrollTo, ...drawn.current }
}
