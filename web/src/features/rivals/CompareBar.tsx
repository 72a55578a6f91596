import { lazy } from 'react'
import { ComparedSites } from '../../compared/ComparedSites.tsx'
import { useTargetKeys } from '../../compared/TargetChoice.tsx'
import { useShowDialog } from '../../ui/DialogHost.tsx'
import { TabBar } from '../../ui/TabBar.tsx'
import { LoadRankings } from './LoadRankings.tsx'

const SweepDialog = lazy(() => import('./SweepDialog.tsx'))

export const tabs = {
  profiles: 'Profiles',
  keywords: 'Keywords',
  pages: 'Pages',
  paid: 'Advertising',
  overlap: 'Overlap',
  time: 'Over time',
  who: 'Who they are',
} as const
export type Tab = keyof typeof tabs
/** Tabs that look at one of the sites. */
const ofOne: ReadonlySet<Tab> = new Set<Tab>(['keywords', 'pages', 'paid'])

type Props = {
  targets: readonly string[]
  see: Tab
  coverage: string
  setRivals(rivals: readonly string[]): void
}
/** Which sites are looked at, each in its colour, and what of them is shown. */
export function CompareBar({ targets, see, coverage, setRivals }: Props) {
  const show = useShowDialog()
  useTargetKeys(targets, ofOne.has(see))
  return (
    <div className="bar rivals-bar" role="toolbar" aria-label="Compared sites">
      <ComparedSites targets={targets} setRivals={setRivals} />
      <div className="rivals-what">
        <span className="quiet cut" title={coverage}>
          {coverage}
        </span>
        <LoadRankings targets={targets} />
        <button
          type="button"
          className="link"
          title="When results of many keywords are fetched anew"
          onClick={() => show(close => <SweepDialog onClose={close} />)}
        >
          Sweeps
        </button>
        <TabBar tabs={tabs} see={see} forget={['region', 'within', 'overlap']} />
      </div>
    </div>
  )
}
