/** Difficulty as a wedge that gets steeper and darker, beside its number. */
export function Slope({ difficulty }: { difficulty: number }) {
  const rise = 2 + (Math.min(100, difficulty) / 100) * 13
  const shade = difficulty < 25 ? 'scale1' : difficulty < 50 ? 'scale2' : difficulty < 75 ? 'scale3' : 'scale4'
  return (
    <span className="bar-picture">
      <svg width="20" height="16" viewBox="0 0 20 16" aria-hidden="true">
        <path d={`M0 16 L20 16 L20 ${16 - rise} Z`} fill={`var(--mui-palette-dew-${shade})`} />
      </svg>
      <b style={{ fontWeight: 540, minWidth: 20, textAlign: 'right' }}>{Math.round(difficulty)}</b>
    </span>
  )
}
