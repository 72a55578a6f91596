import { useMemo } from 'react'
import { useAct } from '../../ui/use-act.ts'
import { plural } from '../../ui/format.ts'
import { weighColumns } from '../../keywords/keyword-columns.tsx'
import { KeywordSheet } from '../../keywords/KeywordSheet.tsx'
import { weighKeywords } from './keyword-actions.ts'
import { OwnLevels } from './OwnLevels.tsx'
import { RefreshAtNight } from './RefreshAtNight.tsx'
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
            <OwnLevels />
            <Link className="link" to={`/${site.id}/weigh/strengths?market=${market.id}`}>
              What ranks
            </Link>
            <RefreshAtNight />
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
