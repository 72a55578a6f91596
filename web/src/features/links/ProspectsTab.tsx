import {
  addProspects,
  changeProspect,
  listProspects,
  type Prospect,
  prospectStates,
  removeProspects,
} from '@dew-trail/contract/prospects'
import { startCrawl } from '@dew-trail/contract/crawl'
import { prospectBatch, prospectSpecs } from '@dew-trail/contract/link-tables'
import { tidyTypedAddress } from '@dew-trail/core/web/typed-address'
import { TextField } from '@mui/material'
import { type FormEvent, useCallback, useMemo, useState } from 'react'
import { call } from '../../api/call.ts'
import { useEndpoint } from '../../api/use-endpoint.ts'
import type { useCompared } from '../../compared/use-compared.ts'
import type { Row } from '../../rows/row-source.ts'
import { plainView } from '../../sheet/plain-view.ts'
import { TableScreen } from '../../sheet/TableScreen.tsx'
import type { Selection } from '../../sheet/use-selection.ts'
import { useRowsInWorker } from '../../sheet/use-rows-in-worker.ts'
import { useSheetState } from '../../sheet/use-sheet-state.ts'
import { plural } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'
import { setParam, useAddress } from '../../ui/use-address.ts'
import { useChange } from '../../ui/use-change.ts'
import { prospectColumns, stateWords } from './link-columns.tsx'
import { LinksBar } from './LinksBar.tsx'
import { ProspectBoard } from './ProspectBoard.tsx'
import { ProspectDetails } from './ProspectDetails.tsx'

/** So many pages of a prospect's site are read to see whether its link is there. */
const pagesToVerify = 200
const sums = ['standing']
const views = [
  plainView('All of them', 'nextDay'),
  plainView('Due', 'nextDay', 'late:yes'),
  plainView('To ask', '-standing', 'state:is:toAsk'),
  plainView('Asked or promised', 'nextDay', 'state:is:asked|promised'),
  plainView('Placed', '-standing', 'state:is:placed'),
]
const localDay = (): string => new Date().toLocaleDateString('sv')

/** The sites that links are wanted from: as rows, or on a board by their state. */
export function ProspectsTab({ targets, setRivals }: ReturnType<typeof useCompared>) {
  const { site } = useSite()
  const act = useAct()
  const [params, change] = useAddress()
  const asBoard = params.get('as') === 'board'
  const { data, error } = useEndpoint(listProspects, { siteId: site.id })
  const batch = useMemo(() => (data ? prospectBatch(data, localDay()) : null), [data])
  const source = useRowsInWorker(prospectSpecs, batch)
  const state = useSheetState('nextDay')
  const byId = useMemo(() => new Map(data?.map(each => [each.id, each])), [data])
  const unfold = useCallback(
    (row: Row) => {
      const prospect = byId.get(row.id)
      return prospect ? <ProspectDetails key={prospect.id} prospect={prospect} /> : null
    },
    [byId],
  )
  const move = useCallback(
    (prospect: Prospect, to: Prospect['state']) =>
      act(async () => {
        const { id: prospectId, version } = prospect
        const { actId } = await call(changeProspect, { siteId: site.id, prospectId, version, state: to })
        return { say: `${prospect.domain} is ${stateWords[to]}`, actId }
      }),
    [act, site.id],
  )
  const rowActions = useMemo(() => {
    const remove = (ids: readonly number[]) =>
      void act(async () => {
        const { changed, actId } = await call(removeProspects, { siteId: site.id, prospectIds: [...ids] })
        return { say: `${plural(changed, 'prospect')} removed`, actId }
      })
    return {
      keys: () => ({}),
      menu: (row: { id: number }) => {
        const prospect = byId.get(row.id)
        if (!prospect) return []
        return [
          ...prospectStates
            .filter(each => each !== prospect.state)
            .map(each => ({ label: `State: ${stateWords[each]}`, run: () => void move(prospect, each) })),
          ...(prospect.contact
            ? [{ label: `Write to ${prospect.contact}`, run: () => void window.open(`mailto:${prospect.contact}`) }]
            : []),
          {
            label: 'Open the site',
            run: () => void window.open(prospect.page ?? `https://${prospect.domain}/`, '_blank', 'noreferrer'),
          },
          {
            label: 'See whether the link is there',
            run: () =>
              void act(async () => {
                await call(startCrawl, { siteId: site.id, domains: [prospect.domain], mostPages: pagesToVerify })
                return { say: `Reading ${prospect.domain}; a link that is there is noted on the timeline` }
              }),
          },
          { label: 'Remove', run: () => remove([row.id]) },
        ]
      },
      foot: (take: Selection['take']) => (
        <button type="button" className="link" onClick={() => void take().then(({ ids }) => remove(ids))}>
          Remove
        </button>
      ),
    }
  }, [byId, move, act, site.id])
  const bar = (
    <>
      <LinksBar targets={targets} see="prospects" setRivals={setRivals} />
      {asBoard && data && data.length > 0 && <ProspectBoard prospects={data} today={localDay()} onMove={move} />}
    </>
  )
  const due = data?.filter(each => each.nextDay !== null && each.nextDay <= localDay()).length ?? 0
  const placedUnseen = data?.filter(each => each.state === 'placed' && !each.linksToOwn).length ?? 0
  return (
    <TableScreen
      key={site.id}
      name="prospects"
      label="Prospects"
      fileName="prospects"
      title="Links"
      noun="prospect"
      top={bar}
      source={source}
      error={error}
      total={data?.length ?? 0}
      columns={prospectColumns}
      state={state}
      searchColumn="domain"
      sums={sums}
      shippedViews={views}
      unfold={unfold}
      rowActions={rowActions}
      footSelected={rowActions.foot}
      actions={
        <>
          <button
            type="button"
            className="link"
            aria-pressed={asBoard}
            onClick={() => change(setParam('as', asBoard ? null : 'board'))}
          >
            Board
          </button>
          <AddProspect />
        </>
      }
      foot={() => (
        <>
          {due > 0 && (
            <span className="fall">
              <b>{due}</b> due
            </span>
          )}
          {placedUnseen > 0 && (
            <span className="quiet">{placedUnseen} called placed, yet our graph has not seen the link</span>
          )}
        </>
      )}
      none={
        <>
          <h2>No site is written down yet</h2>
          <p>
            Press P on a linking site of a rival, or add whoever links to several of them: each becomes a row with a
            contact, a state, remarks and a next day.
          </p>
          <button type="button" className="link" onClick={() => change(setParam('see', 'several'), true)}>
            Who links to several
          </button>
        </>
      }
    />
  )
}

/** A field that writes a site down. */
function AddProspect() {
  const { site } = useSite()
  const act = useAct()
  const { run } = useChange()
  const [text, setText] = useState('')
  const [wrong, setWrong] = useState(false)
  const save = (event: FormEvent) => {
    event.preventDefault()
    const tidy = tidyTypedAddress(text)
    if (tidy === null) return setWrong(text.trim() !== '')
    void run(() =>
      act(async () => {
        const { added, actId } = await call(addProspects, { siteId: site.id, sites: [{ domain: tidy }] })
        setText('')
        return { say: added ? `${tidy} is a prospect` : `${tidy} was a prospect already`, actId }
      }),
    )
  }
  return (
    <form onSubmit={save}>
      <TextField
        value={text}
        error={wrong}
        placeholder="+ site"
        onChange={event => {
          setText(event.target.value)
          setWrong(false)
        }}
        helperText={wrong ? 'Such as clay.example' : undefined}
        sx={{ width: 150 }}
        slotProps={{ htmlInput: { 'aria-label': 'Another prospect' } }}
      />
    </form>
  )
}
