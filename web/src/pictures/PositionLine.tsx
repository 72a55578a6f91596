/** Thirty days of places on a log scale, up is better; days not checked or not found leave gaps. */
export function PositionLine({ positions }: { positions: readonly number[] }) {
  const y = (position: number): number => 1.5 + (Math.log(Math.min(100, position)) / Math.log(100)) * 15
  let path = ''
  let pen = false
  positions.forEach((position, i) => {
    if (position > 0)
      path += `${pen ? 'L' : 'M'}${((i / Math.max(1, positions.length - 1)) * 90).toFixed(1)} ${y(position).toFixed(1)}`
    pen = position > 0
  })
  return (
    <svg width="90" height="18" viewBox="0 0 90 18" aria-hidden="true">
      <path d={path} fill="none" stroke="var(--mui-palette-dew-scale3)" strokeWidth="1.3" strokeLinecap="round" />
    </svg>
  )
}
