import { findBatch, findSpecs, findTable } from '@dew-trail/contract/find-tables'
import {
  changeFindList,
  type FindList,
  listFindLists,
  readFinds,
  remarkFind,
  removeFindList,
  takeOffFindList,
} from '@dew-trail/contract/finds'
import { mostSites } from '@dew-trail/core/rivals/regions'
import { MenuItem, TextField } from '@mui/material'
import { lazy, useMemo } from 'react'
import { call } from '../../api/call.ts'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { findNouns } from '../../compared/PutOnFindList.tsx'
import type { useCompared } from '../../compared/use-compared.ts'
import { n } from '../../keywords/column-parts.tsx'
import type { Row } from '../../rows/row-source.ts'
import type { SheetColumn } from '../../sheet/columns.ts'
import { TableScreen } from '../../sheet/TableScreen.tsx'
import { useRowsInWorker } from '../../sheet/use-rows-in-worker.ts'
import type { Selection } from '../../sheet/use-selection.ts'
import { useSheetState } from '../../sheet/use-sheet-state.ts'
import { useShowDialog } from '../../ui/DialogHost.tsx'
import { formatDay, formatWhole, plural } from '../../ui/format.ts'
import { MoreMenu } from '../../ui/MoreMenu.tsx'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'
import { setParam, useAddress } from '../../ui/use-address.ts'
import { LinksBar } from './LinksBar.tsx'
import { useLinkActs } from './use-link-acts.ts'

const TextDialog = lazy(() => import('../../ui/TextDialog.tsx'))

const unknown = (why: string) => (
  <span className="unknown" title={why}>
    unknown
  </span>
)
const columns: SheetColumn[] = [
  {
    ...findTable.what,
    width: 330,
    fixed: true,
    render: row => (
      <span className="keyword-name" title={String(row.what)}>
        {String(row.what).replace(/^https?:\/\//, '')}
      </span>
    ),
  },
  {
    ...findTable.target,
    width: 220,
    render: row => (row.target === null ? '' : <span title={String(row.target)}>{String(row.target)}</span>),
  },
  {
    ...findTable.standing,
    width: 90,
    align: 'right',
    render: row => {
      const value = n(row, 'standing')
      return value === null ? unknown('The graph has not ranked this site') : Math.round(value)
    },
  },
  {
    ...findTable.linkingSites,
    width: 108,
    align: 'right',
    render: row => {
      const value = n(row, 'linkingSites')
      return value === null ? unknown('The graph knows no link to it') : formatWhole(value)
    },
  },
  {
    ...findTable.linksToOwn,
    width: 104,
    render: row => (row.linksToOwn ? <b className="kept-row">links to you</b> : ''),
  },
  {
    ...findTable.remark,
    width: 240,
    render: row => <span title={String(row.remark ?? '')}>{String(row.remark ?? '')}</span>,
  },
  { ...findTable.addedOn, width: 110, render: row => formatDay(String(row.addedOn)) },
  { ...findTable.domain, width: 160, hidden: true, render: row => String(row.domain) },
]
const sums = ['standing']

/** What was put on lists: sites, pages and links, to be compared, asked for links, or handed on as a file. */
export function FindsTab({ targets, setRivals }: ReturnType<typeof useCompared>) {
  const { site, market } = useSite()
  const act = useAct()
  const acts = useLinkActs()
  const show = useShowDialog()
  const [params, change] = useAddress()
  const lists = useEndpoint(listFindLists, { siteId: site.id }).data
  const list = lists?.find(each => each.id === Number(params.get('list'))) ?? lists?.[0]
  const { data, error } = useEndpoint(
    readFinds,
    { siteId: site.id, findListId: list?.id ?? 1 },
    { enabled: list !== undefined },
  )
  const rows = list ? data : lists ? [] : undefined
  const batch = useMemo(() => (rows ? findBatch(rows) : null), [rows])
  const source = useRowsInWorker(findSpecs, batch)
  const state = useSheetState('')
  const byId = useMemo(() => new Map(rows?.map(row => [row.id, row])), [rows])
  const rowActions = useMemo(() => {
    const domains = (ids: readonly number[]) => [...new Set(ids.flatMap(id => byId.get(id)?.domain ?? []))]
    const prospects = (ids: readonly number[]) => void acts.addProspects(domains(ids).map(domain => ({ domain })))
    const remove = (ids: readonly number[]) =>
      void act(async () => {
        if (!list) return
        const { removed, actId } = await call(takeOffFindList, {
          siteId: site.id,
          findListId: list.id,
          itemIds: [...ids],
        })
        return { say: `${plural(removed, findNouns[list.kind])} taken off "${list.name}"`, actId }
      })
    const remark = (id: number) =>
      show(close => (
        <TextDialog
          title="Remark"
          label="Remark"
          most={1_000}
          optional
          text={byId.get(id)?.remark ?? ''}
          onClose={close}
          onSave={text =>
            void act(async () => {
              if (!list) return
              const { actId } = await call(remarkFind, {
                siteId: site.id,
                findListId: list.id,
                itemId: id,
                remark: text,
              })
              return { say: 'Remark saved', actId }
            })
          }
        />
      ))
    const onOneOrAll = (run: (ids: readonly number[]) => void, take: Selection['take']) => (id: number | null) =>
      id === null ? void take().then(({ ids }) => ids.length && run(ids)) : run([id])
    return {
      keys: (take: Selection['take']): Record<string, (id: number | null) => void> => ({
        p: onOneOrAll(prospects, take),
        r: id => id !== null && remark(id),
      }),
      menu: (row: Row) => [
        { label: 'Remark …', key: 'R', run: () => remark(row.id) },
        { label: 'Add its site to the prospects', key: 'P', run: () => prospects([row.id]) },
        {
          label: 'Open it',
          run: () =>
            void window.open(
              String(row.what).startsWith('http') ? String(row.what) : `https://${String(row.what)}/`,
              '_blank',
              'noreferrer',
            ),
        },
        { label: 'Take off the list', run: () => remove([row.id]) },
      ],
      prospects,
      remove,
    }
  }, [byId, acts, act, list, site.id, show])
  /** Looks at the sites of the list, as many as can be compared, in another part of Links. */
  const compare = (see: string) => {
    const domains = [...new Set(rows?.map(row => row.domain))].filter(domain => domain !== site.domain)
    change(next => {
      next.set('with', domains.slice(0, mostSites - 1).join(','))
      setParam('see', see)(next)
      for (const name of ['where', 'sort', 'open', 'list']) next.delete(name)
    }, true)
  }
  return (
    <TableScreen
      key={`${site.id}:${market.id}:${list?.id ?? 0}`}
      name="finds"
      label={list ? `The list ${list.name}` : 'Lists'}
      fileName={list ? `list-${list.name.replace(/[^a-z0-9]+/gi, '-').toLowerCase()}` : 'list'}
      title="Links"
      noun={list ? findNouns[list.kind] : 'find'}
      top={<LinksBar targets={targets} see="lists" setRivals={setRivals} />}
      lead={
        list && lists ? (
          <TextField
            select
            value={list.id}
            sx={{ minWidth: 200 }}
            onChange={event => change(setParam('list', event.target.value), true)}
            slotProps={{ htmlInput: { 'aria-label': 'List' } }}
          >
            {lists.map(each => (
              <MenuItem key={each.id} value={each.id}>
                {each.name} · {plural(each.items, findNouns[each.kind])}
              </MenuItem>
            ))}
          </TextField>
        ) : null
      }
      actions={
        list ? (
          <>
            <button type="button" className="link" disabled={!rows?.length} onClick={() => compare('profile')}>
              Compare these sites
            </button>
            <button type="button" className="link" disabled={!rows?.length} onClick={() => compare('several')}>
              Who links to several of them
            </button>
            <ListMenu list={list} onGone={() => change(setParam('list', null))} />
          </>
        ) : null
      }
      source={source}
      error={error}
      total={rows?.length ?? 0}
      columns={columns}
      state={state}
      searchColumn="what"
      sums={sums}
      rowActions={rowActions}
      footSelected={take => (
        <>
          <button
            type="button"
            className="link"
            onClick={() => void take().then(({ ids }) => rowActions.prospects(ids))}
          >
            Add to the prospects
          </button>
          <button type="button" className="link" onClick={() => void take().then(({ ids }) => rowActions.remove(ids))}>
            Take off the list
          </button>
        </>
      )}
      foot={({ sums: of }) =>
        of.standing!.median === null ? null : <span>standing, median {Math.round(of.standing!.median)}</span>
      }
      none={
        <>
          <h2>{list ? 'This list is empty' : 'Nothing was put on a list yet'}</h2>
          <p>Select sites, links or pages in Linking sites, Links, Pages or Ranking, and press L.</p>
        </>
      }
    />
  )
}

/** What can be done with a list as a whole. */
function ListMenu({ list, onGone }: { list: FindList; onGone(): void }) {
  const { site } = useSite()
  const act = useAct()
  const show = useShowDialog()
  const one = { siteId: site.id, findListId: list.id }
  return (
    <MoreMenu
      items={[
        {
          label: 'Rename …',
          run: () =>
            show(close => (
              <TextDialog
                title="Rename the list"
                label="Name"
                most={80}
                text={list.name}
                onClose={close}
                onSave={name =>
                  void act(async () => {
                    const { actId } = await call(changeFindList, { ...one, name })
                    return { say: `The list is called "${name}"`, actId }
                  })
                }
              />
            )),
        },
        {
          label: 'Remove',
          run: () =>
            void act(async () => {
              const { actId } = await call(removeFindList, one)
              onGone()
              return { say: `"${list.name}" removed`, actId }
            }),
        },
      ]}
    />
  )
}
