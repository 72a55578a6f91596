import type { LinkAge } from '@dew-trail/contract/link-lists'
import { readTarget } from '@dew-trail/core/rivals/target'
import { MenuItem, TextField } from '@mui/material'
import { lazy } from 'react'
import { ComparedSites } from '../../compared/ComparedSites.tsx'
import { TargetChoice, useTargetKeys } from '../../compared/TargetChoice.tsx'
import { useShowDialog } from '../../ui/DialogHost.tsx'
import { TabBar } from '../../ui/TabBar.tsx'
import { setParam, useAddress } from '../../ui/use-address.ts'
import { SourceChoice } from './SourceChoice.tsx'
import { ageWords, lostDays, useLinks } from './use-links.ts'

const LoadLinksDialog = lazy(() => import('./LoadLinksDialog.tsx'))

export const tabs = {
  profile: 'Profile',
  sites: 'Linking sites',
  links: 'Links',
  anchors: 'Anchors',
  pages: 'Pages',
  several: 'Link to several',
  suspicious: 'Suspicious',
  prospects: 'Prospects',
  ranking: 'Ranking',
  lists: 'Lists',
} as const
export type Tab = keyof typeof tabs
/** Tabs that look at the links of one of the sites, and those that count links by their age. */
const ofOne: ReadonlySet<Tab> = new Set<Tab>(['sites', 'links', 'anchors', 'pages', 'suspicious'])
const aged: ReadonlySet<Tab> = new Set<Tab>([...ofOne, 'profile'])

const ages: Array<{ value: string; age: LinkAge; days: number }> = [
  { value: 'there', age: 'there', days: 0 },
  ...lostDays.toSorted((a, b) => a - b).map(days => ({ value: `lost ${days}`, age: 'lost' as const, days })),
  { value: 'ever', age: 'ever', days: 0 },
]
/** Puts a choice of `ages` into an address. */
const countLinks = (value: string) => (params: URLSearchParams) => {
  const [age, days] = value.split(' ')
  setParam('age', age === 'there' ? null : age!)(params)
  setParam('days', days && days !== String(lostDays[0]) ? days : null)(params)
}

type Props = {
  targets: readonly string[]
  see: Tab
  /** What is known, in a sentence. */
  says?: string
  setRivals(rivals: readonly string[]): void
}
/** Whose links are looked at, which of them count, and what of them is shown. */
export function LinksBar({ targets, see, says = '', setRivals }: Props) {
  const [, change] = useAddress()
  const { target, age, days, sources } = useLinks(targets)
  const show = useShowDialog()
  useTargetKeys(targets, ofOne.has(see))
  const domains = [...new Set(targets.map(text => readTarget(text)?.domain).filter(each => each !== undefined))]
  return (
    <div className="bar rivals-bar" role="toolbar" aria-label="Whose links">
      <ComparedSites targets={targets} setRivals={setRivals} />
      <div className="rivals-what">
        {ofOne.has(see) && <TargetChoice targets={targets} target={target} />}
        {aged.has(see) && (
          <>
            <TextField
              select
              value={age === 'lost' ? `lost ${days}` : age}
              sx={{ minWidth: 150 }}
              onChange={event => change(countLinks(event.target.value), true)}
              slotProps={{ htmlInput: { 'aria-label': 'Which links count' } }}
            >
              {ages.map(each => (
                <MenuItem key={each.value} value={each.value}>
                  {ageWords(each.age, each.days)}
                </MenuItem>
              ))}
            </TextField>
            <SourceChoice sources={sources} />
          </>
        )}
        <span className="quiet cut" title={says}>
          {says}
        </span>
        <button
          type="button"
          className="link"
          title="Which sources are asked about the links to these sites, and what that costs"
          onClick={() => show(close => <LoadLinksDialog domains={domains} onClose={close} />)}
        >
          Load links
        </button>
        <TabBar tabs={tabs} see={see} forget={['from', 'list']} />
      </div>
    </div>
  )
}
