import { useEndpoint } from '../api/use-endpoint.ts'
import { getTrail } from '@dew-trail/contract/sites'
import { NavLink, useLocation } from 'react-router'
import { formatWhole, plural } from '../format.ts'
import { Drop } from './Drop.tsx'
import { useSite } from './site-context.ts'

/** The trail: navigation and progress in one. */
export function Trail() {
  const { site, market } = useSite()
  const { pathname } = useLocation()
  const { data } = useEndpoint(getTrail, { siteId: site.id })
  const at = (name: string): string => `/${site.id}/${name}?market=${market.id}`
  const count = (value: number | undefined, words: string): string =>
    value === undefined ? '…' : `${formatWhole(value)} ${words}`
  const stations = [
    { name: 'gather', label: 'Gather', text: count(data?.found, 'found') },
    {
      name: 'weigh',
      label: 'Weigh',
      text: data ? `${formatWhole(data.weighed)} of ${formatWhole(data.kept)} kept` : '…',
    },
    { name: 'group', label: 'Group', text: count(data?.themes, data?.themes === 1 ? 'theme' : 'themes') },
    { name: 'plan', label: 'Plan', text: data ? plural(data.pages, 'page') : '…' },
    { name: 'track', label: 'Track', text: count(data?.tracked, 'watched') },
  ]
  return (
    <nav className="trail" aria-label="Trail">
      <ol>
        {stations.map(({ name, label, text }) => {
          const here = `${pathname}/`.startsWith(`/${site.id}/${name}/`)
          return (
            <li key={name}>
              <NavLink className="station" to={at(name)}>
                <Drop filled={here} />
                <span>
                  <b>{label}</b>
                  <small>{text}</small>
                </span>
              </NavLink>
            </li>
          )
        })}
      </ol>
      <div className="side-links">
        {['Rivals', 'Links', 'Places', 'Reports', 'Sources'].map(label => (
          <NavLink key={label} to={at(label.toLowerCase())}>
            {label}
          </NavLink>
        ))}
      </div>
    </nav>
  )
}
