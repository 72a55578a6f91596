import { lazy } from 'react'
import { ComparedSites } from '../../compared/ComparedSites.tsx'
import { useShowDialog } from '../../ui/DialogHost.tsx'
import { setParam, useAddress } from '../../ui/use-address.ts'
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

type Props = {
  targets: readonly string[]
  see: Tab
  coverage: string
  setRivals(rivals: readonly string[]): void
}
/** Which sites are looked at, each in its colour, and what of them is shown. */
export function CompareBar({ targets, see, coverage, setRivals }: Props) {
  const [, change] = useAddress()
  const show = useShowDialog()
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
        <div className="bar-end" role="group" aria-label="What is shown">
          {(Object.keys(tabs) as Tab[]).map(tab => (
            <button
              key={tab}
              type="button"
              className="link"
              aria-pressed={see === tab}
              onClick={() =>
                change(params => {
                  setParam('see', tab === 'profiles' ? null : tab)(params)
                  // Conditions are of one table's columns.
                  for (const name of ['where', 'sort', 'open', 'region', 'within', 'overlap']) params.delete(name)
                }, true)
              }
            >
              {tabs[tab]}
            </button>
          ))}
        </div>
      </div>
    </div>
  )
}
