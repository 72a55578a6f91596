import { formatChance } from '../ui/format.ts'

/** A chance as a bar with its figure; `own`: of a page of the site, in its colour. */
export function ChanceBar({ chance, own = false }: { chance: number; own?: boolean }) {
  return (
    <span className="bar-picture">
      <svg width="36" height="5" aria-hidden="true">
        <rect width="36" height="5" rx="2.5" fill="var(--mui-palette-dew-scale0)" />
        <rect
          width={Math.max(1, chance * 36)}
          height="5"
          rx="2.5"
          fill={`var(--mui-palette-dew-${own ? 'own' : 'scale3'})`}
        />
      </svg>
      <span className={own ? 'own' : undefined} style={{ minWidth: 34, textAlign: 'right' }}>
        {formatChance(chance)}
      </span>
    </span>
  )
}
