/** Choices of how many days are shown. */
export function DayRanges({
  choices,
  days,
  onChange,
}: {
  choices: readonly number[]
  days: number
  onChange(days: number): void
}) {
  return choices.map(count => (
    <button
      key={count}
      type="button"
      className="link"
      aria-pressed={days === count}
      style={days === count ? { textDecoration: 'underline', textUnderlineOffset: 4 } : {}}
      onClick={() => onChange(count)}
    >
      {count} days
    </button>
  ))
}
