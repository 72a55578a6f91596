import { type ReactNode, useLayoutEffect, useRef } from 'react'

type Props = {
  id: number
  width: number | undefined
  onHeight(id: number, height: number): void
  children: ReactNode
}

/** The unfolded part of a row; tells its height whenever it changes, so that the rows below make room. */
export function SheetDetails({ id, width, onHeight, children }: Props) {
  const element = useRef<HTMLDivElement>(null)
  useLayoutEffect(() => {
    const box = element.current
    if (!box) return
    const tell = () => onHeight(id, box.offsetHeight)
    tell()
    const observer = new ResizeObserver(tell)
    observer.observe(box)
    return () => observer.disconnect()
  }, [id, onHeight])
  return (
    <div ref={element} className="sheet-details" role="row" style={{ width, maxWidth: width }}>
      <div role="gridcell">{children}</div>
    </div>
  )
}
