import { type Grouping, listGroupedKeywords, listThemes } from '@dew-trail/contract/group'
import { themeBatch, themeSpecs } from '@dew-trail/contract/group-tables'
import { type DragEvent, lazy, useCallback, useMemo } from 'react'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { call } from '../../api/call.ts'
import { actOnJob } from '@dew-trail/contract/jobs'
import type { Row } from '../../rows/row-source.ts'
import { plainView } from '../../sheet/plain-view.ts'
import type { RowMenuItem } from '../../sheet/RowMenu.tsx'
import { SumText } from '../../sheet/SumText.tsx'
import { TableScreen } from '../../sheet/TableScreen.tsx'
import { useRowsInWorker } from '../../sheet/use-rows-in-worker.ts'
import { useSheetState } from '../../sheet/use-sheet-state.ts'
import type { Selection } from '../../sheet/use-selection.ts'
import { useShowDialog } from '../../ui/DialogHost.tsx'
import { download } from '../../ui/download.ts'
import { plural } from '../../ui/format.ts'
import { useJobs } from '../../ui/JobLine.tsx'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'
import { GroupBar } from './GroupBar.tsx'
import { themeColumns } from './group-columns.tsx'
import { GroupHead } from './GroupHead.tsx'
import { draggedKeywords, ThemeDetails } from './ThemeDetails.tsx'
import { useGrouping } from './use-grouping.ts'
import { useThemeActs } from './use-theme-acts.tsx'

const MoveDialog = lazy(() => import('./MoveDialog.tsx'))
const TextDialog = lazy(() => import('../../ui/TextDialog.tsx'))

const sums = ['keywords', 'searches', 'visits']
const views = [
  plainView('All of them', '-searches'),
  plainView('Answered by none of your pages', '-searches', 'ownPage:unknown'),
  plainView('Your pages compete', '-searches', 'competing:from:2'),
  plainView('Not on the plan', '-searches', 'planned:unknown'),
  plainView('Changed by hand', '-searches', 'byHand:from:1'),
]

type Props = { groupings: readonly Grouping[]; grouping: Grouping }
/** The themes of a grouping as a sheet, unfolding to their keywords; above it what other thresholds would make of them. */
export function ThemesTab({ groupings, grouping }: Props) {
  const { site, market } = useSite()
  const { one, about, error: aboutError, choice, threshold, method } = useGrouping(grouping)
  const { data, error } = useEndpoint(listThemes, { ...one, ...choice }, { keep: true })
  const batch = useMemo(() => (data ? themeBatch(data.rows) : null), [data])
  const source = useRowsInWorker(themeSpecs, batch)
  const state = useSheetState('-searches')
  const acts = useThemeActs(one)
  const act = useAct()
  const show = useShowDialog()
  const byId = useMemo(() => new Map(data?.rows.map(row => [row.id, row])), [data])
  const nameOf = useCallback((id: number): string => byId.get(id)?.name ?? byId.get(id)?.lead ?? '', [byId])
  const kept = data?.kept ?? false
  const unfold = useCallback(
    (row: Row) => (
      <ThemeDetails
        one={one}
        choice={choice}
        theme={{ id: row.id, leadId: Number(row.leadId), name: String(row.theme) }}
        acts={acts}
      />
    ),
    [one, choice, acts],
  )
  const mergeInto = useCallback(
    (ids: number[]) =>
      show(close => (
        <MoveDialog
          one={one}
          title={ids.length === 1 ? `Merge "${nameOf(ids[0]!)}" into` : `Merge ${plural(ids.length, 'theme')} into`}
          without={ids.length === 1 ? ids : []}
          done="Merge"
          onChoose={into => void acts.merge(ids, into)}
          onClose={close}
        />
      )),
    [show, one, nameOf, acts],
  )
  const rename = useCallback(
    (id: number) =>
      show(close => (
        <TextDialog
          label="Name"
          most={200}
          optional
          title="Name the theme"
          text={byId.get(id)?.name ?? ''}
          help={`Without a name it is called as its lead, "${byId.get(id)?.lead ?? ''}"`}
          onSave={name => void acts.rename(id, name)}
          onClose={close}
        />
      )),
    [show, byId, acts],
  )
  const rowActions = useMemo(() => {
    const onOneOrAll = (run: (ids: number[]) => void, take: Selection['take']) => (id: number | null) => {
      if (id !== null) run([id])
      else void take().then(({ ids }) => ids.length && run(ids))
    }
    const lock = (ids: number[]) => {
      for (const id of ids) void acts.lock(id, !byId.get(id)?.locked)
    }
    return {
      keys: (take: Selection['take']): Record<string, (id: number | null) => void> =>
        kept
          ? {
              m: onOneOrAll(mergeInto, take),
              p: onOneOrAll(ids => void acts.plan(ids), take),
              t: onOneOrAll(ids => void acts.track(ids), take),
              o: onOneOrAll(lock, take),
              r: id => id !== null && rename(id),
            }
          : {},
      menu: (row: Row): RowMenuItem[] =>
        kept
          ? [
              { label: 'Put on a page', key: 'P', run: () => void acts.plan([row.id]) },
              { label: 'Track its keywords', key: 'T', run: () => void acts.track([row.id]) },
              { label: 'Merge into another …', key: 'M', run: () => mergeInto([row.id]) },
              { label: 'Name …', key: 'R', run: () => rename(row.id) },
              { label: row.locked ? 'Unlock' : 'Lock as it is', key: 'O', run: () => lock([row.id]) },
            ]
          : [{ label: 'Keep these themes first, above', run: () => undefined }],
    }
  }, [kept, acts, byId, mergeInto, rename])
  // A keyword that is dragged out of an unfolded theme lands on the row it is let go over.
  const drop = (event: DragEvent) => {
    const ids = draggedKeywords(event)
    const row = (event.target as HTMLElement).closest<HTMLElement>('.sheet-row')
    if (!ids || !row || !kept) return
    event.preventDefault()
    const id = Number(row.dataset.id)
    if (byId.has(id)) void acts.move(ids, { id, name: nameOf(id) })
  }
  const saveWorkbook = () =>
    act(async () => {
      const [{ themesWorkbook }, { rows }] = await Promise.all([
        import('./themes-workbook.ts'),
        call(listGroupedKeywords, { ...one, ...choice }),
      ])
      download(await themesWorkbook(rows), `${site.domain}-themes.xlsx`)
      return { say: 'Workbook saved: a sheet a theme' }
    })
  const job = useJobs().jobs.find(each => each.id === grouping.jobId)
  return (
    // It only takes what is dragged to a row; M does the same by key.
    <div className="drop-area" onDragOver={event => event.preventDefault()} onDrop={drop}>
      <TableScreen
        key={`${site.id}:${market.id}:${grouping.id}`}
        name="themes"
        label="Themes"
        fileName="themes"
        title="Group"
        noun="theme"
        top={<GroupBar groupings={groupings} grouping={grouping} see="themes" />}
        head={
          about && grouping.groupedAt ? (
            <GroupHead
              grouping={grouping}
              about={about}
              rows={data?.rows}
              choice={choice}
              threshold={threshold}
              method={method}
              acts={acts}
            />
          ) : null
        }
        actions={
          <button type="button" className="link" onClick={() => void saveWorkbook()}>
            Workbook, a sheet a theme
          </button>
        }
        source={source}
        error={error ?? aboutError}
        total={data?.rows.length ?? 0}
        columns={themeColumns}
        state={state}
        searchColumn="theme"
        sums={sums}
        shippedViews={views}
        unfold={unfold}
        rowActions={rowActions}
        footSelected={take => (
          <>
            <FootAct take={take} label="Put on pages" run={ids => void acts.plan(ids)} />
            <FootAct take={take} label="Track" run={ids => void acts.track(ids)} />
            <FootAct take={take} label="Merge" run={mergeInto} />
          </>
        )}
        foot={({ sums: of }) => (
          <>
            <span>
              <SumText sum={of.keywords!} of="keywords" />
            </span>
            <span>
              <SumText sum={of.searches!} of="searches/mo" />
            </span>
            <span>
              <SumText sum={of.visits!} of="visits/mo to expect" about />
            </span>
          </>
        )}
        footEnd={<span className="quiet">P page · T track · M merge · R name · O lock</span>}
        none={
          grouping.groupedAt === null ? (
            <>
              <h2>{grouping.jobState === 'failed' ? 'Grouping failed' : 'The themes are being made'}</h2>
              <p>
                {job?.error ??
                  (job?.state === 'paused'
                    ? 'The work is paused; go on with it in the foot.'
                    : 'Result pages that are missing are fetched first; the foot shows how far it is. You can go on working elsewhere.')}
              </p>
              {job && (job.state === 'failed' || job.state === 'cancelled') && (
                <button
                  type="button"
                  className="link"
                  onClick={() => void act(async () => void (await call(actOnJob, { jobId: job.id, action: 'retry' })))}
                >
                  Try again
                </button>
              )}
            </>
          ) : (
            <>
              <h2>{grouping.basis === 'given' ? 'There is no theme yet' : 'No two keywords belong together'}</h2>
              <p>
                {grouping.basis === 'given'
                  ? 'Choose shared pages above, or put keywords together by hand in Keywords: select some and press S.'
                  : 'None shares as many results with another as was asked for. Ask for fewer shared pages above, or put keywords together by hand in Keywords.'}
              </p>
            </>
          )
        }
      />
    </div>
  )
}

type FootProps = { take: Selection['take']; label: string; run(ids: number[]): void }
function FootAct({ take, label, run }: FootProps) {
  return (
    <button
      type="button"
      className="link"
      onClick={() => void take().then(({ ids }) => ids.filter(id => id > 0).length && run(ids.filter(id => id > 0)))}
    >
      {label}
    </button>
  )
}
