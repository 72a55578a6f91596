import { formatShare } from '../ui/format.ts'

const width = 48

/** Clicks on results, on ads and none, as one bar with the share of results as a number. Shares 0–1. */
export function ClickSplitBar({ organic, paid }: { organic: number; paid: number }) {
  return (
    <span className="bar-picture">
      <svg width={width} height="5" aria-hidden="true">
        <rect width={width} height="5" rx="2.5" fill="var(--mui-palette-dew-scale0)" />
        <rect width={(organic + paid) * width} height="5" rx="2.5" fill="var(--mui-palette-dew-rival2)" />
        <rect width={organic * width} height="5" rx="2.5" fill="var(--mui-palette-dew-scale3)" />
      </svg>
      <span style={{ minWidth: 34, textAlign: 'right' }}>{formatShare(organic)}</span>
    </span>
  )
}
