import type { ReactNode } from 'react'
import { TabBar } from '../../ui/TabBar.tsx'

export const tabs = {
  positions: 'Positions',
  changes: 'What happened',
  voice: 'Share of voice',
  pages: 'Own pages',
  sites: 'All sites',
} as const

/** What of tracking is shown. `children` stand before. */
export function TrackBar({ see, children }: { see: keyof typeof tabs; children?: ReactNode }) {
  return (
    <div className="bar" role="toolbar" aria-label="Track">
      {children}
      <TabBar tabs={tabs} see={see} />
    </div>
  )
}
