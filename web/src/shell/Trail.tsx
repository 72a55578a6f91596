import { useEndpoint } from '../api/use-endpoint.ts'
import { getTrail } from '@dew-trail/contract/sites'
import { useContext, useEffect } from 'react'
import { NavLink, useLocation } from 'react-router'
import { destinationsContext } from './registry.ts'
import { Drop } from '../ui/Drop.tsx'
import { keepLook, lastLook } from '../ui/last-looks.ts'
import { useSite } from '../ui/site-context.ts'

/** The trail: navigation and progress in one. */
export function Trail() {
  const { site, market } = useSite()
  const { pathname, search } = useLocation()
  useEffect(() => {
    const [, here, path] = pathname.split('/')
    if (here === String(site.id) && path) keepLook(site.id, path, search)
  }, [pathname, search, site.id])
  const { data } = useEndpoint(getTrail, { siteId: site.id, marketId: market.id })
  const destinations = useContext(destinationsContext)
  // A place is come back to as it was left; the place one is at begins anew.
  const at = (path: string): string =>
    pathname === `/${site.id}/${path}` ? `/${site.id}/${path}?market=${market.id}` : lastLook(site.id, path, market.id)
  return (
    <nav className="trail" aria-label="Trail">
      <ol>
        {destinations.map(each => {
          if (each.on !== 'trail') return null
          const here = `${pathname}/`.startsWith(`/${site.id}/${each.path}/`)
          return (
            <li key={each.path}>
              <NavLink className="station" to={at(each.path)}>
                <Drop filled={here} />
                <span>
                  <b>{each.label}</b>
                  <small>{data ? each.count(data) : '…'}</small>
                </span>
              </NavLink>
            </li>
          )
        })}
      </ol>
      <div className="side-links">
        {destinations
          .filter(each => each.on === 'side')
          .map(({ path, label }) => (
            <NavLink key={path} to={at(path)}>
              {label}
            </NavLink>
          ))}
      </div>
    </nav>
  )
}
