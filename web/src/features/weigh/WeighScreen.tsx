import { askAgain } from '../../api/use-endpoint.ts'
import { changeSite, listSites } from '@dew-trail/contract/sites'
import { freshDays } from '@dew-trail/contract/weigh'
import { useQueryClient } from '@tanstack/react-query'
import { useMemo } from 'react'
import { call } from '../../api/call.ts'
import { useAct } from '../../ui/use-act.ts'
import { plural } from '../../ui/format.ts'
import { weighColumns } from '../../keywords/keyword-columns.tsx'
import { KeywordSheet } from '../../keywords/KeywordSheet.tsx'
import { weighKeywords } from './keyword-actions.ts'
import { levelWords, ownLevelsIn } from '../../ui/own-levels.ts'
import { ScreenTitle } from '../../ui/ScreenTitle.tsx'
import { useSite } from '../../ui/site-context.ts'
import { SumText } from '../../sheet/SumText.tsx'
import { useSheetState } from '../../sheet/use-sheet-state.ts'
import { Link } from 'react-router'

const sumColumns = ['searches', 'difficulty', 'visits', 'worth']
const hide = ['kept']

/** Kept keywords and what can be won of them. */
export default function WeighScreen() {
  const { site, market, keywords } = useSite()
  const act = useAct()
  const client = useQueryClient()
  const refreshAtNight = (wanted: boolean) =>
    act(async () => {
      await call(changeSite, { siteId: site.id, refreshWeighings: wanted })
      await askAgain(client, listSites)
      return { say: wanted ? 'Old weighings are refreshed each night' : 'Weighings are refreshed only when you ask' }
    })
  const own = useSheetState('-worth,-searches')
  // Only kept keywords are here; the condition is the screen's and not the user's to take away.
  const state = useMemo(
    () => ({
      ...own,
      where: [{ column: 'kept', op: 'yes' } as const, ...own.where],
      setWhere: (where: typeof own.where) => own.setWhere(where.filter(each => each.column !== 'kept')),
    }),
    [own],
  )
  const position = ownLevelsIn(site, market)
  const levels = position && (
    <span className="quiet" title={levelWords(position, site)}>
      Your level{' '}
      {position.level === null ? (
        <span className="unknown">unknown</span>
      ) : (
        <b className="own">{Math.round(position.level)}</b>
      )}
      , comfortable to{position.level === null && ' at least'} <b>{Math.round(position.comfortable)}</b>, stretch to{' '}
      <b>{Math.round(position.stretch)}</b>
    </span>
  )
  return (
    <main className="screen whole">
      <ScreenTitle title="Weigh" />
      <KeywordSheet
        name="weigh"
        label="Keywords kept"
        fileName="weighed"
        columns={weighColumns}
        state={state}
        source={keywords}
        hide={hide}
        sums={sumColumns}
        actions={
          <>
            {levels}
            <Link className="link" to={`/${site.id}/weigh/strengths?market=${market.id}`}>
              What ranks
            </Link>
            <label
              className="quiet"
              style={{ display: 'inline-flex', gap: 6, alignItems: 'center' }}
              title={`Kept keywords weighed more than ${freshDays} days ago are weighed again, at half past two (UTC)`}
            >
              <input
                type="checkbox"
                checked={site.refreshWeighings}
                onChange={event => refreshAtNight(event.target.checked)}
              />
              Refresh old ones at night
            </label>
            <button type="button" className="link" onClick={() => weighKeywords({ site, market, act })}>
              Weigh all kept
            </button>
          </>
        }
        foot={({ rows, sums }, ofSelected) => (
          <>
            {!ofSelected && (
              <span>
                <b>{plural(rows, 'keyword')}</b>
              </span>
            )}
            <span>
              <SumText sum={sums.searches!} of="searches/mo" />
            </span>
            <span>
              difficulty, median{' '}
              <b>{sums.difficulty!.median === null ? 'unknown' : Math.round(sums.difficulty!.median)}</b>
            </span>
            <span>
              <SumText sum={sums.visits!} of="visits/mo" about />
            </span>
            <span title="What the visits would cost as advertisements">
              worth <SumText sum={sums.worth!} of="a month" about />
            </span>
          </>
        )}
        empty={
          own.where.length ? (
            <div className="empty">
              <h2>No kept keyword meets all conditions</h2>
              <p>Take a condition away to see more.</p>
              <button type="button" className="link" onClick={() => own.setWhere([])}>
                Clear all conditions
              </button>
            </div>
          ) : (
            <div className="empty">
              <h2>Nothing is kept yet</h2>
              <p>
                Keep keywords in Gather (Y, or the mark at the start of a row). They come here to be weighed: how hard
                the first page is, and what your site could win.
              </p>
              <Link className="link" to={`/${site.id}/gather?market=${market.id}`}>
                Go to Gather
              </Link>
            </div>
          )
        }
      />
    </main>
  )
}
