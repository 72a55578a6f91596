import { usePageTitle } from '../ui/ScreenTitle.tsx'
import { Link, useLocation } from 'react-router'
import { useSite } from '../ui/site-context.ts'

type Page = { title: string; will: string; until: string; step: { label: string; to: string } }
const pages: Record<string, Page> = {
  places: {
    title: 'Places',
    will: 'Here positions in local results will be measured point by point across a town. This part is not built yet.',
    until: 'Until then, gather what people nearby search for: filter by the intent Near me.',
    step: { label: 'Show local keywords', to: 'gather?where=intent:is:near' },
  },
  reports: {
    title: 'Reports',
    will: 'Here reports will be put together from the other screens, with your own words between. This part is not built yet.',
    until: 'Until then, every table can be exported as CSV, just as it is on screen.',
    step: { label: 'Go to Track', to: 'track' },
  },
}

/** An honest page for a part that does not exist yet. */
export default function PlainPage() {
  const { site, market } = useSite()
  const { pathname } = useLocation()
  const page = pages[pathname.split('/')[2] ?? '']!
  usePageTitle(page.title)
  return (
    <main className="screen whole">
      <div className="main">
        <div className="empty">
          <h1>{page.title}</h1>
          <p>{page.will}</p>
          <p>{page.until}</p>
          <Link
            className="link"
            to={`/${site.id}/${page.step.to}${page.step.to.includes('?') ? '&' : '?'}market=${market.id}`}
          >
            {page.step.label}
          </Link>
        </div>
      </div>
    </main>
  )
}
