import { Button } from '@mui/material'
import { useQuery } from '@tanstack/react-query'
import { lazy, Suspense, useMemo, useState } from 'react'
import { Navigate, Outlet, useParams } from 'react-router'
import { keyOf } from '../api/use-endpoint.ts'
import { useSiteEvents } from '../api/use-site-events.ts'
import { listSites, type Site } from '@dew-trail/contract/sites'
import { DialogHost } from '../ui/DialogHost.tsx'
import { HealthLine } from './HealthLine.tsx'
import { marketAt, siteAt, takeSites } from '../ui/early-source.ts'
import { siteContext, useKeywordSource } from '../ui/site-context.ts'
import { SignedOut } from './SignedOut.tsx'
import { SignIn } from './SignIn.tsx'
import { SiteBar } from './SiteBar.tsx'
import { Shortcuts } from './Shortcuts.tsx'
import { Trail } from './Trail.tsx'
import { setParam, useAddress } from '../ui/use-address.ts'

// Loaded when they are first wanted.
const Palette = lazy(() => import('./Palette.tsx').then(module => ({ default: module.Palette })))
const AddSite = lazy(() => import('./AddSite.tsx').then(module => ({ default: module.AddSite })))
const Help = lazy(() => import('./Help.tsx').then(module => ({ default: module.Help })))

export function Shell() {
  const { siteId } = useParams()
  const { data: sites, error } = useQuery({
    queryKey: keyOf(listSites, {}),
    queryFn: takeSites,
    meta: { oldBy: listSites.oldBy },
  })
  if ((error as { code?: string } | null)?.code === 'notSignedIn')
    return <SignIn onIn={() => window.location.reload()} />
  if (error)
    return (
      <div className="empty" role="alert">
        <h1>Dew Trail cannot be reached</h1>
        <p>{error.message}</p>
        <button type="button" className="link" onClick={() => window.location.reload()}>
          Try again
        </button>
      </div>
    )
  if (!sites) return <p className="empty quiet">Loading</p>
  const site = siteAt(sites, siteId)
  if (!site) return <FirstSite />
  if (String(site.id) !== siteId) return <Navigate to={`/${site.id}/gather`} replace />
  return <InSite key={site.id} site={site} sites={sites} />
}

function FirstSite() {
  const [adding, setAdding] = useState(false)
  return (
    <div className="empty">
      <h1>No site yet</h1>
      <p>Give the domain of a site and where its readers search; everything else begins from there.</p>
      <Button variant="contained" onClick={() => setAdding(true)}>
        Add a site
      </Button>
      <Suspense fallback={null}>{adding && <AddSite onClose={() => setAdding(false)} />}</Suspense>
    </div>
  )
}

/** Puts the focus on the active row of the screen's table, or on the screen where it has none. */
function focusTable(): void {
  const row = document.querySelector<HTMLElement>('.sheet-row[tabindex="0"], .sheet[tabindex="0"]')
  const target = row ?? document.querySelector<HTMLElement>('main')
  target?.setAttribute('tabindex', target.getAttribute('tabindex') ?? '-1')
  target?.focus()
}

function InSite({ site, sites }: { site: Site; sites: Site[] }) {
  const [params, changeAddress] = useAddress()
  const market = marketAt(site, params)
  const keywords = useKeywordSource(site.id, market.id)
  const [dialog, setDialog] = useState<'palette' | 'help' | null>(null)
  useSiteEvents(site.id, () => keywords?.refresh())
  const value = useMemo(
    () =>
      keywords && {
        site,
        sites,
        market,
        keywords,
        openPalette: () => setDialog('palette'),
        openHelp: () => setDialog('help'),
        setMarket: (marketId: number) => changeAddress(setParam('market', String(marketId))),
      },
    [site, sites, market, keywords, changeAddress],
  )
  if (!value) return null
  return (
    <siteContext.Provider value={value}>
      <DialogHost>
        <Shortcuts onPalette={() => setDialog('palette')} onHelp={() => setDialog('help')} />
        <div className="shell">
          <button type="button" className="skip" onClick={focusTable}>
            Skip to the table
          </button>
          <div>
            <HealthLine />
            <SiteBar />
          </div>
          <Trail />
          <Outlet />
        </div>
        <SignedOut />
        <Suspense fallback={null}>
          {dialog === 'palette' && <Palette onClose={() => setDialog(null)} onHelp={() => setDialog('help')} />}
          {dialog === 'help' && <Help onClose={() => setDialog(null)} />}
        </Suspense>
      </DialogHost>
    </siteContext.Provider>
  )
}
