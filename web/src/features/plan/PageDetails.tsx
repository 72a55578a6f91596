import { type PlannedPage, removePage } from '@dew-trail/contract/plan'
import { trackKeywords } from '@dew-trail/contract/track'
import { Button } from '@mui/material'
import { call } from '../../api/call.ts'
import { plural } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'
import { setParam, useAddress } from '../../ui/use-address.ts'
import { PageKeywords } from './PageKeywords.tsx'
import { PageSums } from './PageSums.tsx'
import { WorkFields } from './WorkFields.tsx'

/** An unfolded page: what can be changed of it, and its keywords. */
export function PageDetails({ page }: { page: PlannedPage }) {
  const [, change] = useAddress()
  return (
    <div style={{ display: 'grid', gridTemplateColumns: '340px minmax(0, 1fr)', gap: 32 }}>
      <div style={{ paddingTop: 6 }}>
        <WorkFields page={page} />
      </div>
      <div style={{ minWidth: 0 }}>
        <PageSums page={page} />
        <PageKeywords page={page} />
        <PageActs page={page}>
          <Button
            color="inherit"
            onClick={() =>
              change(params => {
                for (const name of ['see', 'where', 'sort', 'open']) params.delete(name)
                setParam('page', String(page.id))(params)
              }, true)
            }
          >
            Brief
          </Button>
        </PageActs>
      </div>
    </div>
  )
}

/** What can be done with a page as a whole. */
export function PageActs({ page, children }: { page: PlannedPage; children?: React.ReactNode }) {
  const { site } = useSite()
  const act = useAct()
  const untracked = page.keywords.filter(keyword => !keyword.tracked).map(keyword => keyword.id)
  return (
    <div style={{ display: 'flex', gap: 12, marginTop: 10, flexWrap: 'wrap' }}>
      {page.keywords.length > 0 && (
        <Button
          variant="contained"
          disabled={!untracked.length}
          onClick={() =>
            void act(async () => {
              const { changed, actId } = await call(trackKeywords, {
                siteId: site.id,
                keywordIds: untracked,
                tracked: true,
              })
              return { say: `${plural(changed.length, 'keyword')} sent to tracking`, actId }
            })
          }
        >
          {untracked.length ? `Send ${plural(untracked.length, 'keyword')} to tracking` : 'All keywords are tracked'}
        </Button>
      )}
      {children}
      <Button
        color="inherit"
        onClick={() =>
          void act(async () => {
            const { actId } = await call(removePage, { siteId: site.id, pageId: page.id })
            return { say: `"${page.title}" removed from the plan`, actId }
          })
        }
      >
        Remove page
      </Button>
    </div>
  )
}
