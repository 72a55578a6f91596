import { Link } from 'react-router'
import { usePageTitle } from '../ui/ScreenTitle.tsx'
import { useSite } from '../ui/site-context.ts'

/** An honest page in the place of Reports, which does not exist yet. */
export default function PlainPage() {
  const { site, market } = useSite()
  usePageTitle('Reports')
  return (
    <main className="screen whole">
      <div className="main">
        <div className="empty">
          <h1>Reports</h1>
          <p>
            Here reports will be put together from the other screens, with your own words between. This part is not
            built yet.
          </p>
          <p>Until then, every table can be exported, just as it is on screen, and pictures saved or printed.</p>
          <Link className="link" to={`/${site.id}/track?market=${market.id}`}>
            Go to Track
          </Link>
        </div>
      </div>
    </main>
  )
}
