import { type Grouping, listGroupedKeywords } from '@dew-trail/contract/group'
import { groupedBatch, groupedSpecs } from '@dew-trail/contract/group-tables'
import { familyOnce } from '@dew-trail/core/tables/once-by'
import { lazy, useMemo } from 'react'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { useRowActions } from '../../keywords/use-row-actions.tsx'
import type { Row } from '../../rows/row-source.ts'
import { plainView } from '../../sheet/plain-view.ts'
import { SumText } from '../../sheet/SumText.tsx'
import { TableScreen } from '../../sheet/TableScreen.tsx'
import { useRowsInWorker } from '../../sheet/use-rows-in-worker.ts'
import type { Selection } from '../../sheet/use-selection.ts'
import { useSheetState } from '../../sheet/use-sheet-state.ts'
import { useShowDialog } from '../../ui/DialogHost.tsx'
import { plural } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { GroupBar } from './GroupBar.tsx'
import { groupedColumns } from './group-columns.tsx'
import { useGrouping } from './use-grouping.ts'
import { useThemeActs } from './use-theme-acts.tsx'

const MoveDialog = lazy(() => import('./MoveDialog.tsx'))
const TextDialog = lazy(() => import('../../ui/TextDialog.tsx'))

const sums = ['searches']
const views = [
  plainView('All of them', ''),
  plainView('In no theme', '-nearestShared,-searches', 'state:is:alone|unknown'),
  plainView('Without a result page', '-searches', 'state:is:unknown'),
  plainView('Nearer to another theme', '-searches', 'state:is:grouped', 'nearestShared:from:4'),
  plainView('Put by hand', '-searches', 'byHand:yes'),
]

/** Every keyword of a grouping with its theme and the nearest other one: to move them by the many, and to find those that stand alone. */
export function KeywordsTab({ groupings, grouping }: { groupings: readonly Grouping[]; grouping: Grouping }) {
  const { site, market } = useSite()
  const { one } = useGrouping(grouping)
  const { data, error } = useEndpoint(listGroupedKeywords, one, { keep: true })
  const batch = useMemo(() => (data ? groupedBatch(data.rows) : null), [data])
  const source = useRowsInWorker(groupedSpecs, batch, familyOnce)
  const state = useSheetState('')
  const acts = useThemeActs(one)
  const show = useShowDialog()
  const keywordActions = useRowActions()
  const byId = useMemo(() => new Map(data?.rows.map(row => [row.id, row])), [data])
  const own = useMemo(() => {
    const move = (ids: number[]) =>
      show(close => (
        <MoveDialog
          one={one}
          title={
            ids.length === 1
              ? `Move "${byId.get(ids[0]!)?.phrase ?? ''}" to`
              : `Move ${plural(ids.length, 'keyword')} to`
          }
          done="Move"
          onChoose={into => void acts.move(ids, into)}
          onClose={close}
        />
      ))
    const split = (ids: number[]) =>
      show(close => (
        <TextDialog
          label="Name"
          most={200}
          optional
          title={`A theme of ${plural(ids.length, 'keyword')}`}
          text=""
          help="Without a name it is called as its most searched keyword"
          onSave={name => void acts.split(ids, name)}
          onClose={close}
        />
      ))
    const join = (ids: number[]) => {
      const byTheme = new Map<number, number[]>()
      for (const id of ids) {
        const near = byId.get(id)?.nearestId
        if (near) byTheme.set(near, [...(byTheme.get(near) ?? []), id])
      }
      for (const [theme, some] of byTheme) void acts.move(some, { id: theme, name: byId.get(some[0]!)?.nearest ?? '' })
    }
    return { move, split, join, letGo: (ids: number[]) => void acts.letGo(ids) }
  }, [acts, byId, one, show])
  const rowActions = useMemo(() => {
    const onOneOrAll = (run: (ids: number[]) => void, take: Selection['take']) => (id: number | null) =>
      id === null ? void take().then(({ ids }) => ids.length && run(ids)) : run([id])
    return {
      keys: (take: Selection['take']) => ({
        ...keywordActions.keys(take),
        m: onOneOrAll(own.move, take),
        a: onOneOrAll(own.join, take),
        s: onOneOrAll(own.split, take),
        u: onOneOrAll(own.letGo, take),
      }),
      menu: (row: Row) => [
        { label: 'Move to a theme …', key: 'M', run: () => own.move([row.id]) },
        ...(row.nearest === null
          ? []
          : [{ label: `Add to "${String(row.nearest)}"`, key: 'A', run: () => own.join([row.id]) }]),
        { label: 'A theme of its own …', key: 'S', run: () => own.split([row.id]) },
        ...(row.theme === null ? [] : [{ label: 'Take out of its theme', key: 'U', run: () => own.letGo([row.id]) }]),
        ...keywordActions.menu(row),
      ],
    }
  }, [keywordActions, own])
  return (
    <TableScreen
      key={`${site.id}:${market.id}:${grouping.id}`}
      name="grouped-keywords"
      label="Keywords of the grouping"
      fileName="keywords-by-theme"
      title="Group"
      noun="keyword"
      top={<GroupBar groupings={groupings} grouping={grouping} see="keywords" />}
      source={source}
      error={error}
      total={data?.rows.length ?? 0}
      columns={groupedColumns}
      state={state}
      searchColumn="phrase"
      sums={sums}
      shippedViews={views}
      rowActions={rowActions}
      footSelected={take => (
        <>
          {(
            [
              ['Move', own.move],
              ['Add to the nearest', own.join],
              ['New theme', own.split],
              ['Take out', own.letGo],
            ] as const
          ).map(([label, run]) => (
            <button
              key={label}
              type="button"
              className="link"
              onClick={() => void take().then(({ ids }) => ids.length && run(ids))}
            >
              {label}
            </button>
          ))}
          {keywordActions.foot(take)}
        </>
      )}
      foot={({ sums: of }) => (
        <span>
          <SumText sum={of.searches!} of="searches/mo" />
        </span>
      )}
      footEnd={<span className="quiet">M move · A add to nearest · S new theme · U take out</span>}
      none={
        <>
          <h2>This grouping has no keyword</h2>
          <p>Group anew, from kept keywords, a list, a seed or pasted lines.</p>
        </>
      }
    />
  )
}
