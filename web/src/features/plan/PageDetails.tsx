import { assignKeywords, type PageState, pageStates, type PlannedPage, removePage } from '@dew-trail/contract/plan'
import { trackKeywords } from '@dew-trail/contract/track'
import { Button, MenuItem, TextField } from '@mui/material'
import { X } from 'lucide-react'
import { call } from '../../api/call.ts'
import { ChanceBar } from '../../pictures/ChanceBar.tsx'
import { Slope } from '../../pictures/Slope.tsx'
import { formatWhole, plural } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'
import { usePageDraft } from './use-page-draft.ts'
import { stateLabels } from './plan-columns.tsx'

/** An unfolded page: what can be changed of it, and its keywords. Changes are saved as a field is left. */
export function PageDetails({ page }: { page: PlannedPage }) {
  const { site } = useSite()
  const act = useAct()
  const { change, field } = usePageDraft(page)
  const untracked = page.keywords.filter(keyword => !keyword.tracked).map(keyword => keyword.id)
  const takeOff = (id: number, phrase: string) =>
    act(async () => {
      const { actId } = await call(assignKeywords, { siteId: site.id, pageId: null, keywordIds: [id] })
      return { say: `"${phrase}" taken off the page`, actId }
    })
  return (
    <div style={{ display: 'grid', gridTemplateColumns: '320px minmax(0, 1fr)', gap: 32 }}>
      <div style={{ display: 'flex', flexDirection: 'column', gap: 12, paddingTop: 6 }}>
        <TextField label="Name" {...field('title')} />
        <TextField label="Address" placeholder="/guides/…" {...field('address')} />
        <div style={{ display: 'flex', gap: 10 }}>
          <TextField
            select
            fullWidth
            label="State"
            value={page.state}
            onChange={event => change({ state: event.target.value as PageState })}
          >
            {pageStates.map(state => (
              <MenuItem key={state} value={state}>
                {stateLabels[state]}
              </MenuItem>
            ))}
          </TextField>
          <TextField
            fullWidth
            type="date"
            label="Deadline"
            {...field('deadline')}
            slotProps={{ inputLabel: { shrink: true } }}
          />
        </div>
        <TextField label="Remarks" multiline minRows={2} {...field('remarks')} />
      </div>
      <div style={{ minWidth: 0 }}>
        <table className="results">
          <thead>
            <tr>
              <th>Keyword</th>
              <th className="n">searches</th>
              <th className="n">difficulty</th>
              <th className="n">chance</th>
              <th className="n">visits</th>
              <th className="n">tracked</th>
              <th className="n">
                <span className="hidden">Take off</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {page.keywords.map(keyword => (
              <tr key={keyword.id}>
                <td title={keyword.phrase}>{keyword.phrase}</td>
                <td className="n">
                  {keyword.searches === null ? <span className="unknown">unknown</span> : formatWhole(keyword.searches)}
                </td>
                <td className="n">
                  {keyword.difficulty === null ? (
                    <span className="unknown" title="Not weighed in this market">
                      –
                    </span>
                  ) : (
                    <Slope difficulty={keyword.difficulty} />
                  )}
                </td>
                <td className="n">
                  {keyword.chance === null ? <span className="unknown">–</span> : <ChanceBar chance={keyword.chance} />}
                </td>
                <td className="n">
                  {keyword.visits === null ? <span className="unknown">–</span> : formatWhole(keyword.visits)}
                </td>
                <td className="n">{keyword.tracked ? 'yes' : 'no'}</td>
                <td className="n">
                  <button
                    type="button"
                    className="link"
                    aria-label={`Take ${keyword.phrase} off the page`}
                    title="Take off the page"
                    onClick={() => takeOff(keyword.id, keyword.phrase)}
                  >
                    <X size={13} />
                  </button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        {page.keywords.length === 0 && (
          <p className="quiet">No keyword stands on this page yet. Select some in Gather or Weigh and press P.</p>
        )}
        <div style={{ display: 'flex', gap: 12, marginTop: 10 }}>
          <Button
            variant="contained"
            disabled={!untracked.length}
            onClick={() =>
              act(async () => {
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
          <Button
            color="inherit"
            onClick={() =>
              act(async () => {
                const { actId } = await call(removePage, { siteId: site.id, pageId: page.id })
                return { say: `"${page.title}" removed from the plan`, actId }
              })
            }
          >
            Remove page
          </Button>
        </div>
      </div>
    </div>
  )
}
