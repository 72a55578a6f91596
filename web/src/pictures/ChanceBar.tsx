import { formatChance } from '../ui/format.ts'

export function ChanceBar({ chance }: { chance: number }) {
  return (
    <span className="bar-picture">
      <svg width="36" height="5" aria-hidden="true">
        <rect width="36" height="5" rx="2.5" fill="var(--mui-palette-dew-scale0)" />
        <rect width={Math.max(1, chance * 36)} height="5" rx="2.5" fill="var(--mui-palette-dew-scale3)" />
      </svg>
      <span style={{ minWidth: 34, textAlign: 'right' }}>{formatChance(chance)}</span>
    </span>
  )
}
