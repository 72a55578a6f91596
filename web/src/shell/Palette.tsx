import { Autocomplete, Dialog, TextField } from '@mui/material'
import { useContext, useEffect, useState } from 'react'
import { useNavigate } from 'react-router'
import { listLists } from '@dew-trail/contract/lists'
import { listPages } from '@dew-trail/contract/plan'
import { listViews, type ViewState } from '@dew-trail/contract/views'
import { useEndpoint } from '../api/use-endpoint.ts'
import { shippedViews } from '../keywords/shipped-views.ts'
import { formatMarket, today } from '../ui/format.ts'
import { useSite } from '../ui/site-context.ts'
import { useShowDialog } from '../ui/DialogHost.tsx'
import type { ScreenHelp } from '../feature.ts'
import { destinationsContext, helpContext, paletteContext } from './registry.ts'
import { findKeywords } from './find-keywords.ts'
import { useAct } from '../ui/use-act.ts'

const viewQuery = ({ where, sort }: ViewState): string => {
  const params = new URLSearchParams(where.map(condition => ['where', condition]))
  params.set('sort', sort)
  return String(params)
}

/** Every part of a screen in parts, but for the first one, which the screen itself opens with. */
const partsOf = ({ path, title, tabs = {} }: ScreenHelp): Array<{ label: string; path: string }> =>
  Object.entries(tabs)
    .slice(1)
    .map(([part, name]) => ({ label: `${title}: ${name}`, path: `${path}?see=${part}` }))

type Entry = { label: string; group: string; run(): void }

/** Goes anywhere: places, actions, views, lists, pages, sites, markets and keywords. */
export function Palette({ onClose, onHelp }: { onClose(): void; onHelp(): void }) {
  const { site, sites, market, keywords, setMarket } = useSite()
  const { data: views } = useEndpoint(listViews, { sheet: 'keywords' })
  const { data: lists } = useEndpoint(listLists, { siteId: site.id })
  const { data: pages } = useEndpoint(listPages, { siteId: site.id, marketId: market.id, today: today() })
  const navigate = useNavigate()
  const act = useAct()
  const [text, setText] = useState('')
  const [found, setFound] = useState<Entry[]>([])
  const to = (path: string) => () => navigate(`/${site.id}/${path}${path.includes('?') ? '&' : '?'}market=${market.id}`)
  const destinations = useContext(destinationsContext)
  const actions = useContext(paletteContext)
  const show = useShowDialog()
  const loadHelp = useContext(helpContext)
  const [parts, setParts] = useState<ReadonlyArray<{ label: string; path: string }>>([])
  useEffect(() => {
    let current = true
    void loadHelp().then(all => current && setParts(all.flatMap(partsOf)))
    return () => {
      current = false
    }
  }, [loadHelp])
  // What an action leads to already has a name that says more.
  const named = new Set(actions.flatMap(each => ('path' in each ? [each.path] : [])))
  const fixed: Entry[] = [
    ...destinations.map(({ label, path }) => ({ label, group: 'Go to', run: to(path) })),
    ...actions.map(each => ({
      label: each.label,
      group: 'Do',
      run: 'path' in each ? to(each.path) : () => each.run({ site, market, keywords, act, show }),
    })),
    ...parts
      .filter(({ path }) => !named.has(path))
      .map(({ label, path }) => ({ label, group: 'Part of a screen', run: to(path) })),
    { label: 'Help with this screen, words, keyboard shortcuts', group: 'Do', run: onHelp },
    ...[...shippedViews, ...(views ?? [])].map(({ name, state }) => ({
      label: name,
      group: 'View of keywords',
      run: to(`gather?${viewQuery(state)}`),
    })),
    ...(lists ?? []).map(({ id, kind, name }) => ({
      label: name,
      group: kind === 'label' ? 'Label' : 'Shortlist',
      run: to(`gather?where=${encodeURIComponent(kind === 'label' ? `labels:any:${name}` : `lists:any:${id}`)}`),
    })),
    ...(pages ?? []).map(({ id, title }) => ({ label: title, group: 'Planned page', run: to(`plan?page=${id}`) })),
    ...sites
      .filter(each => each.id !== site.id)
      .map(each => ({ label: each.domain, group: 'Site', run: () => navigate(`/${each.id}/gather`) })),
    ...site.markets
      .filter(each => each.id !== market.id)
      .map(each => ({
        label: formatMarket(each),
        group: 'Market',
        run: () => setMarket(each.id),
      })),
  ]
  // biome-ignore lint/correctness/useExhaustiveDependencies: the search follows what is typed.
  useEffect(() => {
    let current = true
    if (text.trim().length < 2) {
      setFound([])
      return
    }
    const timer = setTimeout(() => {
      findKeywords(site.id, market.id, text).then(
        phrases => {
          if (current)
            setFound(
              phrases.map(phrase => ({
                label: phrase,
                group: 'Keyword',
                run: to(`gather?where=${encodeURIComponent(`phrase:has:${phrase}`)}`),
              })),
            )
        },
        () => undefined,
      )
    }, 60)
    return () => {
      current = false
      clearTimeout(timer)
    }
  }, [text])
  return (
    <Dialog
      open
      onClose={onClose}
      fullWidth
      maxWidth="sm"
      sx={{ '& .MuiDialog-container': { alignItems: 'flex-start', pt: 12 } }}
      aria-labelledby="palette-title"
    >
      <h2 id="palette-title" className="hidden">
        Go to
      </h2>
      <Autocomplete
        open
        autoHighlight
        options={[...fixed, ...found]}
        groupBy={entry => entry.group}
        renderGroup={({ key, group, children }) => (
          <li key={key} role="none">
            <div className="palette-group" aria-hidden="true">
              {group}
            </div>
            <ul role="group" aria-label={group}>
              {children}
            </ul>
          </li>
        )}
        getOptionLabel={entry => (typeof entry === 'string' ? entry : entry.label)}
        getOptionKey={entry => (typeof entry === 'string' ? entry : `${entry.group}:${entry.label}`)}
        onInputChange={(_, value) => setText(value)}
        disableListWrap
        onClose={(_, reason) => reason === 'escape' && onClose()}
        onChange={(_, entry) => {
          if (entry && typeof entry !== 'string') {
            onClose()
            entry.run()
          }
        }}
        slotProps={{ popper: { placement: 'bottom-start' }, listbox: { sx: { maxHeight: 380 } } }}
        renderInput={params => (
          <TextField
            {...params}
            autoFocus
            placeholder="Type a keyword, a place, a page, a list or an action"
            sx={{ p: 2 }}
          />
        )}
        noOptionsText="Nothing by that name"
      />
    </Dialog>
  )
}
