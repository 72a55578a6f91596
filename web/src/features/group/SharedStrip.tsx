type Props = {
  /** For each of the lead's first results in order whether the keyword shows the same page. */
  strip: readonly boolean[]
  /** Whether the page at a place is one of the own site. */
  own: readonly boolean[]
}
/** A tick for each of the lead's first results, filled where a keyword shows the same page, amber for the own one. */
export function SharedStrip({ strip, own }: Props) {
  const shared = strip.flatMap((is, i) => (is ? [i + 1] : []))
  const words = shared.length ? `Shows the lead's results ${shared.join(', ')}` : 'Shows none of the lead’s results'
  const tick = strip.length > 10 ? 4 : 7
  return (
    <svg width={strip.length * (tick + 2)} height="11" role="img" aria-label={words}>
      <title>{words}</title>
      {strip.map((is, i) => (
        <rect
          key={i}
          x={i * (tick + 2)}
          width={tick}
          height="11"
          rx="2"
          fill={`var(--mui-palette-dew-${is ? (own[i] ? 'own' : 'lagoon') : 'scale0'})`}
        />
      ))}
    </svg>
  )
}
