import { intentLabels } from '../../keywords/column-parts.tsx'
import { formatShare } from '../../ui/format.ts'

const shades = ['scale4', 'scale3', 'scale2', 'scale1', 'line']
/** Shares of the searches by intent as one strip, the largest first and darkest. `shares` in the order of the intents' labels. */
export function IntentStrip({ shares }: { shares: ReadonlyArray<number | null> }) {
  const parts = Object.values(intentLabels)
    .map((label, i) => ({ label, share: shares[i] ?? 0 }))
    .filter(each => each.share > 0.005)
    .sort((a, b) => b.share - a.share)
  const words = parts.map(each => `${each.label} ${formatShare(each.share)}`).join(', ')
  return (
    <span role="img" className="strip" style={{ height: 9, alignSelf: 'center' }} title={words} aria-label={words}>
      {parts.map((each, i) => (
        <i
          key={each.label}
          style={{ width: `${each.share * 100}%`, background: `var(--mui-palette-dew-${shades[i]})` }}
        />
      ))}
    </span>
  )
}
