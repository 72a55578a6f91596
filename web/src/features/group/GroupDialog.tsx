import { countToGroup, createGrouping, type GroupBasis, type GroupSource } from '@dew-trail/contract/group'
import { listGatherings } from '@dew-trail/contract/gather'
import { Button, Dialog, DialogActions, DialogContent, DialogTitle, MenuItem, TextField } from '@mui/material'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { call } from '../../api/call.ts'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { ImportDialog } from '../../imports/ImportDialog.tsx'
import { useLists } from '../../keywords/use-lists.ts'
import { formatMarket, formatWhole, plural } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'
import { useChange } from '../../ui/use-change.ts'

type Kind = GroupSource['kind'] | 'file'
const kinds: Array<[Kind, string]> = [
  ['kept', 'Kept keywords'],
  ['list', 'A shortlist or label'],
  ['gathering', 'What was gathered from a seed'],
  ['pasted', 'Pasted lines'],
  ['file', 'A file, with themes or without'],
  ['plan', 'Pages of the plan, to check them'],
  ['log', 'Own pages in the query log, to check them'],
]
const ages = [
  [7, 'Results at most a week old'],
  [30, 'Results at most 30 days old'],
  [90, 'Results at most 90 days old'],
  [0, 'Results of any age'],
] as const

/** Groups keywords: which ones, how old their results may be, what that costs, and what leads. `ids`: rows that were selected. */
export default function GroupDialog({ ids, onClose }: { ids?: number[]; onClose(): void }) {
  const { site, market } = useSite()
  const navigate = useNavigate()
  const act = useAct()
  const { run, pending } = useChange()
  const [kind, setKind] = useState<Kind>(ids ? 'rows' : 'kept')
  const [listId, setListId] = useState<number | null>(null)
  const [gatheringId, setGatheringId] = useState<number | null>(null)
  const [pasted, setPasted] = useState('')
  const [counted, setCounted] = useState('')
  const [oldestDays, setOldestDays] = useState(30)
  const [compared, setCompared] = useState<10 | 20>(20)
  const [basis, setBasis] = useState<GroupBasis>('results')
  const [searches, setSearches] = useState<'known' | 'ask' | 'none'>('known')
  const lists = [...useLists('shortlist').lists, ...useLists('label').lists]
  const gatherings = (useEndpoint(listGatherings, { siteId: site.id }).data ?? []).filter(
    each => each.found > 0 && !each.pruned,
  )
  const sourceOf = (text: string): GroupSource | null => {
    switch (kind) {
      case 'rows':
        return ids ? { kind, keywordIds: ids } : null
      case 'list':
        return listId === null ? null : { kind, listId }
      case 'gathering':
        return gatheringId === null ? null : { kind, gatheringId }
      case 'pasted':
        return text.trim() ? { kind, text } : null
      case 'file':
        return null
      default:
        return { kind }
    }
  }
  const from = sourceOf(pasted)
  // What is typed is counted once it is left, not at each key.
  const toCount = sourceOf(counted)
  const cost = useEndpoint(
    countToGroup,
    { siteId: site.id, marketId: market.id, from: toCount ?? { kind: 'kept' }, oldestDays, compared },
    { enabled: toCount !== null, retry: false },
  )
  const known = toCount && cost.data
  if (kind === 'file') return <ImportDialog kind="themes" onClose={onClose} />
  const isGiven = kind === 'plan' || kind === 'log'
  const byWords = basis === 'words' && !isGiven
  const start = () =>
    run(() =>
      act(async () => {
        if (!from) return
        const { groupingId } = await call(createGrouping, {
          siteId: site.id,
          marketId: market.id,
          from,
          oldestDays,
          compared,
          basis,
          searches,
        })
        onClose()
        void navigate(`/${site.id}/group?market=${market.id}&grouping=${groupingId}${isGiven ? '&see=check' : ''}`)
        return { say: 'Grouping has begun; the foot shows how far it is' }
      }),
    )
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm">
      <DialogTitle>Group keywords into themes</DialogTitle>
      <DialogContent sx={{ display: 'flex', flexDirection: 'column', gap: 4, pt: '8px !important' }}>
        <TextField
          select
          autoFocus
          label="Which keywords"
          value={kind}
          onChange={event => setKind(event.target.value as Kind)}
        >
          {ids && <MenuItem value="rows">{plural(ids.length, 'selected keyword')}</MenuItem>}
          {kinds.map(([value, label]) => (
            <MenuItem key={value} value={value}>
              {label}
            </MenuItem>
          ))}
        </TextField>
        {kind === 'list' && (
          <TextField
            select
            label="List"
            value={listId ?? ''}
            onChange={event => setListId(Number(event.target.value))}
            helperText={lists.length ? undefined : 'There is no list yet: select keywords and press L'}
          >
            {lists.map(each => (
              <MenuItem key={each.id} value={each.id}>
                {each.name} · {formatWhole(each.keywords)}
              </MenuItem>
            ))}
          </TextField>
        )}
        {kind === 'gathering' && (
          <TextField
            select
            label="Seed"
            value={gatheringId ?? ''}
            onChange={event => setGatheringId(Number(event.target.value))}
            helperText={gatherings.length ? undefined : 'Nothing was gathered yet'}
          >
            {gatherings.map(each => (
              <MenuItem key={each.id} value={each.id}>
                {each.seed} · {formatWhole(each.found)}
              </MenuItem>
            ))}
          </TextField>
        )}
        {kind === 'pasted' && (
          <TextField
            multiline
            minRows={4}
            maxRows={12}
            label="Keywords, one a line"
            value={pasted}
            onChange={event => setPasted(event.target.value)}
            onBlur={() => setCounted(pasted)}
            helperText="Those that are new become found keywords"
          />
        )}
        {!isGiven && (
          <TextField
            select
            label="What holds a theme together"
            value={basis}
            onChange={event => setBasis(event.target.value as GroupBasis)}
          >
            <MenuItem value="results">Shared results: one page can rank for all of it</MenuItem>
            <MenuItem value="given">Nothing yet: I put them together by hand</MenuItem>
            <MenuItem value="words">Shared words: rougher, without a single request</MenuItem>
          </TextField>
        )}
        {!byWords && (
          <TextField
            select
            label="How old results may be"
            value={oldestDays}
            onChange={event => setOldestDays(Number(event.target.value))}
          >
            {ages.map(([days, label]) => (
              <MenuItem key={days} value={days}>
                {label}
              </MenuItem>
            ))}
          </TextField>
        )}
        {!byWords && (
          <TextField
            select
            label="Results compared"
            value={compared}
            onChange={event => setCompared(Number(event.target.value) as 10 | 20)}
          >
            <MenuItem value={20}>The first twenty: chance in the order weighs less</MenuItem>
            <MenuItem value={10}>The first ten</MenuItem>
          </TextField>
        )}
        {!isGiven && (
          <TextField
            select
            label="Searches"
            value={searches}
            onChange={event => setSearches(event.target.value as typeof searches)}
          >
            <MenuItem value="known">As they are known</MenuItem>
            <MenuItem value="ask">Ask for those nobody asked about yet, first</MenuItem>
            <MenuItem value="none">Left out: the lead is what shares most pages</MenuItem>
          </TextField>
        )}
        <p className="quiet" style={{ margin: 0 }} aria-live="polite">
          {toCount && cost.error ? (
            <span className="fall">{cost.error.message}</span>
          ) : known ? (
            <>
              <b>{plural(known.keywords, 'keyword')}</b> on {formatMarket(market)}.{' '}
              {byWords || !known.requests
                ? 'No result page has to be fetched.'
                : `${plural(known.requests, 'result page')} would be fetched, one request each${known.mostADay === null ? '' : `; at most ${formatWhole(known.mostADay)} a day may be`}.`}{' '}
              {known.withoutSearches > 0 &&
                searches === 'known' &&
                `Searches of ${formatWhole(known.withoutSearches)} are not known: they lead last.`}
            </>
          ) : toCount ? (
            'Counting'
          ) : (
            'Say which keywords.'
          )}
        </p>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button
          variant="contained"
          disabled={!from || pending || (known !== null && known !== undefined && !known.keywords)}
          onClick={() => void start()}
        >
          Group
        </Button>
      </DialogActions>
    </Dialog>
  )
}
