import { useEndpoint } from '../api/use-endpoint.ts'
import { getTrail } from '@dew-trail/contract/sites'
import { useContext } from 'react'
import { NavLink, useLocation } from 'react-router'
import { destinationsContext } from './registry.ts'
import { Drop } from '../ui/Drop.tsx'
import { useSite } from '../ui/site-context.ts'

/** The trail: navigation and progress in one. */
export function Trail() {
  const { site, market } = useSite()
  const { pathname } = useLocation()
  const { data } = useEndpoint(getTrail, { siteId: site.id })
  const destinations = useContext(destinationsContext)
  const at = (path: string): string => `/${site.id}/${path}?market=${market.id}`
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
