import {
  acceptAssignments,
  mapFlags,
  type MapFlag,
  movePage,
  readSiteMap,
  readUnlinkedPages,
} from '@dew-trail/contract/site-map'
import { lazy, useCallback, useEffect, useMemo, useState } from 'react'
import { call } from '../../api/call.ts'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { Waiting } from '../../api/Waiting.tsx'
import { useShowDialog } from '../../ui/DialogHost.tsx'
import { formatDay, formatWhole, plural } from '../../ui/format.ts'
import { JobLine } from '../../ui/JobLine.tsx'
import { ScreenTitle } from '../../ui/ScreenTitle.tsx'
import { useSite } from '../../ui/site-context.ts'
import { TextInput } from '../../ui/TextInput.tsx'
import { useAct } from '../../ui/use-act.ts'
import { setParam, useAddress } from '../../ui/use-address.ts'
import { type MapRow, mapRows, rowsInSight, withMoved } from './map-rows.ts'
import { PagePanel } from './PagePanel.tsx'
import { AddPage, PlanBar } from './PlanBar.tsx'
import { flagLabels } from './plan-words.ts'
import { SiteTree } from './SiteTree.tsx'
import { UnplannedPanel } from './UnplannedPanel.tsx'

const AssignDialog = lazy(() => import('./AssignDialog.tsx'))
const none: ReadonlySet<string> = new Set()

/** Which rows are closed: kept while the window is open, as they are many and of this look alone. */
function useClosed(siteId: number): [ReadonlySet<string>, (node: string) => void] {
  const key = `plan-closed-${siteId}`
  const [closed, setClosed] = useState<ReadonlySet<string>>(() => {
    try {
      return new Set(JSON.parse(sessionStorage.getItem(key) ?? '[]') as string[])
    } catch {
      return none
    }
  })
  const toggle = useCallback(
    (node: string) =>
      setClosed(before => {
        const next = new Set(before)
        if (!next.delete(node)) next.add(node)
        try {
          sessionStorage.setItem(key, JSON.stringify([...next]))
        } catch {
          // A full store loses nothing but this look.
        }
        return next
      }),
    [key],
  )
  return [closed, toggle]
}

/** The site's pages as a tree, as they are and as they are planned; beside it the page that is worked on. */
export function MapTab() {
  const { site, market } = useSite()
  const at = { siteId: site.id, marketId: market.id }
  const { data, error } = useEndpoint(readSiteMap, at, { keep: true })
  // The tree does not wait for what is said about links.
  const { data: unlinked } = useEndpoint(readUnlinkedPages, { siteId: site.id }, { enabled: data !== undefined })
  const [params, change] = useAddress()
  const [closed, toggle] = useClosed(site.id)
  const [active, setActive] = useState<string | null>(null)
  const act = useAct()
  const show = useShowDialog()
  const known = useMemo(() => (data ? mapRows(data, new Set(unlinked ?? [])) : []), [data, unlinked])
  /** A move that the map does not tell of yet. */
  const [moved, setMoved] = useState<{ node: string; under: string | null; before: typeof data } | null>(null)
  const rows = useMemo(
    () => (moved && moved.before === data ? withMoved(known, moved.node, moved.under) : known),
    [known, moved, data],
  )
  const find = params.get('find') ?? ''
  const flag = mapFlags.find(each => each === params.get('flag')) ?? null
  const meets = useMemo(() => meetsOf(find, flag), [find, flag])
  const inSight = useMemo(() => rowsInSight(rows, closed, meets), [rows, closed, meets])
  const most = useMemo(() => rows.reduce((high, row) => Math.max(high, row.visits ?? row.visitsNow ?? 0), 0), [rows])
  const wanted = params.get('page')
  const opened =
    rows.find(row => (wanted?.includes(':') ? row.node === wanted : String(row.planned) === wanted)) ?? null
  const openedNode = opened?.node
  useEffect(() => {
    if (openedNode) setActive(openedNode)
  }, [openedNode])
  const open = (row: MapRow) => {
    if (row.folder) return
    setActive(row.node)
    change(setParam('page', row.planned === null ? row.node : String(row.planned)), true)
  }
  const move = (row: MapRow, under: string | null) => {
    setMoved({ node: row.node, under, before: data })
    return act(async () => {
      try {
        const { actId } = await call(movePage, { siteId: site.id, node: row.node, under })
        return { say: `"${row.name}" moved`, actId }
      } catch (error) {
        setMoved(null)
        throw error
      }
    })
  }
  const assign = () =>
    show(close => (
      <AssignDialog
        onClose={close}
        onAccept={themeIds =>
          act(async () => {
            const { actId, keywords, pages, fresh, takenOff } = await call(acceptAssignments, { ...at, ids: themeIds })
            const off = takenOff
              ? `; ${takenOff === 1 ? 'one was' : `${formatWhole(takenOff)} were`} on another page`
              : ''
            const made = fresh ? `, ${formatWhole(fresh)} of them new` : ''
            return { say: `${plural(keywords, 'keyword')} put on ${plural(pages, 'page')}${made}${off}`, actId }
          })
        }
      />
    ))
  const counts = useMemo(() => {
    const all = new Map<MapFlag, number>()
    for (const row of rows) for (const each of row.flags) all.set(each, (all.get(each) ?? 0) + 1)
    return all
  }, [rows])
  const planned = rows.filter(row => row.planned !== null).length
  return (
    <main className="screen whole">
      <ScreenTitle title="Plan" />
      <div className="main">
        <PlanBar see="map">
          <TextInput
            label="Find a page"
            placeholder="Find a page"
            value={find}
            sx={{ width: 160 }}
            onChange={event => change(setParam('find', event.target.value || null))}
          />
          {mapFlags
            .filter(each => counts.has(each) || each === flag)
            .map(each => (
              <button
                key={each}
                type="button"
                className="link"
                aria-pressed={flag === each}
                style={{ marginLeft: 6 }}
                onClick={() => change(setParam('flag', flag === each ? null : each), true)}
              >
                <span>
                  <b>{formatWhole(counts.get(each) ?? 0)}</b> {flagLabels[each]}
                </span>
              </button>
            ))}
        </PlanBar>
        {!data ? (
          <Waiting error={error} />
        ) : rows.length === 0 ? (
          <NothingYet themes={data.without.themes} onAssign={assign} />
        ) : (
          <div className={opened ? 'map-and-page' : 'map-and-page alone'}>
            <div className="map-side">
              {inSight.length === 0 ? (
                <div className="empty">
                  <h2>No page meets this</h2>
                  <button
                    type="button"
                    className="link"
                    onClick={() =>
                      change(all => {
                        all.delete('find')
                        all.delete('flag')
                      })
                    }
                  >
                    Show all pages
                  </button>
                </div>
              ) : (
                <SiteTree
                  rows={inSight}
                  most={most}
                  active={active}
                  opened={opened?.node ?? null}
                  closed={meets ? none : closed}
                  onActive={setActive}
                  onOpen={open}
                  onToggle={row => toggle(row.node)}
                  onMove={(row, under) => void move(row, under)}
                  narrow={opened !== null}
                />
              )}
              <button type="button" className="map-without" onClick={assign}>
                {data.without.themes > 0 ? (
                  <>
                    <span>Without a page</span>
                    <span className="quiet">{plural(data.without.themes, 'theme')}</span>
                    <span className="n">
                      {data.without.searches === null ? '' : `${formatWhole(data.without.searches)} searches/mo`}
                    </span>
                  </>
                ) : (
                  <span className="quiet">No theme of the current grouping is without a page</span>
                )}
                <span className="link">Assign themes</span>
              </button>
            </div>
            {opened &&
              (opened.planned === null ? (
                <UnplannedPanel key={opened.node} row={opened} onClose={() => change(setParam('page', null), true)} />
              ) : (
                <PagePanel
                  key={opened.planned}
                  pageId={opened.planned}
                  onClose={() => change(setParam('page', null), true)}
                />
              ))}
          </div>
        )}
        <div className="foot">
          {data && rows.length > 0 && (
            <>
              <span title={coverageText(data)}>
                <b>{formatWhole(rows.filter(row => !row.folder).length)}</b> pages, <b>{formatWhole(planned)}</b>{' '}
                planned
              </span>
              <span title="Over all keywords known, each once: by the log where it tells, else by positions">
                about <b>{formatWhole(data.visitsOfSite)}</b> visits/mo now, <b>{formatWhole(data.visitsWithPlan)}</b>{' '}
                with the plan
              </span>
              <span className="quiet">{coverageText(data)}</span>
              <span className="quiet">→ ← open and close · Enter opens · Alt → ← moves</span>
            </>
          )}
          <div className="foot-end">
            <JobLine />
          </div>
        </div>
      </div>
    </main>
  )
}

function coverageText({
  crawled,
  crawledOn,
  seenOnly,
}: {
  crawled: number
  crawledOn: string | null
  seenOnly: number
}): string {
  if (crawledOn === null)
    return 'the site was not crawled: these are planned pages and those that results or the log show'
  return `${formatWhole(crawled)} read until ${formatDay(crawledOn)}${seenOnly ? `, ${formatWhole(seenOnly)} only seen among results or in the log` : ''}`
}

function meetsOf(find: string, flag: MapFlag | null): ((row: MapRow) => boolean) | null {
  const words = find.toLowerCase().trim()
  if (!words && !flag) return null
  return row =>
    (!flag || row.flags.includes(flag)) &&
    (!words || [row.name, row.address, row.theme, row.lead].some(text => text?.toLowerCase().includes(words)))
}

function NothingYet({ themes, onAssign }: { themes: number; onAssign(): void }) {
  return (
    <div className="empty" style={{ flex: 1 }}>
      <h2>No page is known yet</h2>
      <p>
        Here the pages of the site stand as a tree, those it has and those it should have. Crawl the site on Links, let
        the themes of a grouping be assigned to pages, or plan a page by hand.
      </p>
      <button type="button" className="link" onClick={onAssign}>
        {themes > 0 ? `Assign ${plural(themes, 'theme')}` : 'Assign kept keywords to pages'}
      </button>
      <br />
      <AddPage />
    </div>
  )
}
