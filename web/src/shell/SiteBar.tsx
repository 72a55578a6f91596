import { MenuItem, useColorScheme } from '@mui/material'
import { CircleHelp, FilePlus, Moon, Sun } from 'lucide-react'
import { lazy, Suspense, useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { formatMarket } from '../ui/format.ts'
import { useShowDialog } from '../ui/DialogHost.tsx'
import { Logo } from '../ui/Drop.tsx'
import { useSite } from '../ui/site-context.ts'
import { Menu } from '../ui/floating-later.tsx'
import { PersonMenu } from './PersonMenu.tsx'

const AddSite = lazy(() => import('./AddSite.tsx').then(module => ({ default: module.AddSite })))
const PutShown = lazy(() => import('../report-pieces/PutShown.tsx'))
const SiteDialog = lazy(() => import('../features/sites/SiteDialog.tsx'))

/** Night header: name, site, market, the way to anything, light or dark. */
export function SiteBar() {
  const { site, sites, market, setMarket, openPalette, openHelp } = useSite()
  const [siteAnchor, setSiteAnchor] = useState<HTMLElement | null>(null)
  const [marketAnchor, setMarketAnchor] = useState<HTMLElement | null>(null)
  const [adding, setAdding] = useState(false)
  const navigate = useNavigate()
  const show = useShowDialog()
  const { mode, systemMode, setMode } = useColorScheme()
  const dark = (mode === 'system' ? systemMode : mode) === 'dark'
  return (
    <header className="shell-head">
      <Link className="shell-name" to={`/${site.id}/gather`}>
        <Logo />
        Dew Trail
      </Link>
      <div style={{ display: 'flex', gap: 1 }}>
        <button
          type="button"
          aria-haspopup="menu"
          title="Choose or add a site"
          onClick={event => setSiteAnchor(event.currentTarget)}
          style={{ borderRadius: '5px 0 0 5px' }}
        >
          <b style={{ fontWeight: 540 }}>{site.domain}</b>
        </button>
        <button
          type="button"
          aria-haspopup="menu"
          title="Choose the market: engine, place, language, device"
          onClick={event => setMarketAnchor(event.currentTarget)}
          style={{ borderRadius: '0 5px 5px 0' }}
        >
          <small>{formatMarket(market)}</small>
        </button>
      </div>
      <button type="button" className="shell-find" onClick={openPalette}>
        <span>Go to a keyword, page or action</span>
        <kbd>Ctrl K</kbd>
      </button>
      <button
        type="button"
        aria-label={dark ? 'Switch to light' : 'Switch to dark'}
        title={dark ? 'Switch to light' : 'Switch to dark'}
        onClick={() => setMode(dark ? 'light' : 'dark')}
      >
        {dark ? <Sun size={15} /> : <Moon size={15} />}
      </button>
      <button
        type="button"
        aria-label="Put what is shown into a report"
        title="Put what is shown into a report"
        onClick={() => show(close => <PutShown onClose={close} />)}
      >
        <FilePlus size={15} />
      </button>
      <button
        type="button"
        aria-label="Help"
        title="What this screen is for, our words, the keys (?)"
        onClick={openHelp}
      >
        <CircleHelp size={15} />
      </button>
      <PersonMenu />
      <Menu open={siteAnchor !== null} anchorEl={siteAnchor} onClose={() => setSiteAnchor(null)}>
        {sites.map(each => (
          <MenuItem
            key={each.id}
            selected={each.id === site.id}
            onClick={() => {
              setSiteAnchor(null)
              navigate(`/${each.id}/gather`)
            }}
          >
            {each.domain}
          </MenuItem>
        ))}
        <MenuItem divider sx={{ p: 0, minHeight: 0 }} disabled />
        <MenuItem
          onClick={() => {
            setSiteAnchor(null)
            setAdding(true)
          }}
        >
          Add a site
        </MenuItem>
        <MenuItem
          onClick={() => {
            setSiteAnchor(null)
            show(close => <SiteDialog onClose={close} />)
          }}
        >
          This site and its markets
        </MenuItem>
      </Menu>
      <Menu open={marketAnchor !== null} anchorEl={marketAnchor} onClose={() => setMarketAnchor(null)}>
        {site.markets.map(each => (
          <MenuItem
            key={each.id}
            selected={each.id === market.id}
            onClick={() => {
              setMarketAnchor(null)
              setMarket(each.id)
            }}
          >
            {formatMarket(each)}
            {each.paused && <small className="quiet">&nbsp;paused</small>}
          </MenuItem>
        ))}
        <MenuItem
          onClick={() => {
            setMarketAnchor(null)
            show(close => <SiteDialog onClose={close} />)
          }}
        >
          Add or change markets
        </MenuItem>
      </Menu>
      <Suspense fallback={null}>{adding && <AddSite onClose={() => setAdding(false)} />}</Suspense>
    </header>
  )
}
