import { listSources } from '@dew-trail/contract/sources'
import { type CandidateSource, listCandidates, startTracking } from '@dew-trail/contract/track'
import {
  Button,
  Checkbox,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  FormControlLabel,
  MenuItem,
  TextField,
} from '@mui/material'
import { type FormEvent, useState } from 'react'
import { call } from '../../api/call.ts'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { formatMarket, formatOne, formatWhole, plural } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'
import { setParam, useAddress } from '../../ui/use-address.ts'
import { useChange } from '../../ui/use-change.ts'

const froms: Record<CandidateSource | 'lines', string> = {
  lines: 'Pasted lines',
  log: 'The query log, most clicks first',
  plan: 'The plan',
  themes: 'Leads of the current themes',
  kept: 'Kept keywords',
  rival: 'Keywords of a rival',
}
/** So many of a source are taken at first. */
const proposed = 200
const mornings = { every: 'day', hour: 6 } as const
const shownAtFirst = 8

/** Keywords are chosen from where they stand, with the markets they are checked in, a label, and what that costs a day. */
export default function TrackSetup({ onClose }: { onClose(): void }) {
  const { site, market } = useSite()
  const [, change] = useAddress()
  const act = useAct()
  const saving = useChange()
  const [from, setFrom] = useState<CandidateSource | 'lines'>('lines')
  const [lines, setLines] = useState('')
  const [rival, setRival] = useState('')
  const [asked, setAsked] = useState('')
  const [most, setMost] = useState(String(proposed))
  const [label, setLabel] = useState('')
  const [daily, setDaily] = useState(true)
  const offered = site.markets.filter(each => each.language === market.language)
  // Mobile too, where there is such a market; those that are paused only when they are chosen.
  const [chosen, setChosen] = useState(() => new Set(offered.filter(each => !each.paused).map(each => each.id)))
  const isAsking = from !== 'lines' && (from !== 'rival' || asked !== '')
  const { data, error } = useEndpoint(
    listCandidates,
    {
      siteId: site.id,
      marketId: market.id,
      from: from === 'lines' ? 'kept' : from,
      ...(from === 'rival' ? { of: asked } : {}),
    },
    { enabled: isAsking },
  )
  const { data: sources } = useEndpoint(listSources, { siteId: site.id })
  const engines = sources?.find(each => each.key === 'engines')
  const left = engines?.mostADay == null ? null : Math.max(0, engines.mostADay - engines.today.requests)
  const count = Math.max(0, Math.min(2_000, Math.floor(Number(most)) || 0))
  const taken = data?.keywords.slice(0, count) ?? []
  const phrases =
    from === 'lines'
      ? [...new Set(lines.split(/\r?\n/).map(line => line.trim().replace(/\s+/g, ' ')))].filter(Boolean)
      : taken.map(each => each.phrase)
  const tooLong = phrases.filter(each => each.length > 200).length
  const requests = phrases.length * chosen.size
  const save = (event: FormEvent) => {
    event.preventDefault()
    void saving.run(() =>
      act(async () => {
        const { tracked, made, actId } = await call(startTracking, {
          siteId: site.id,
          marketIds: [...chosen],
          phrases,
          ...(label.trim() ? { label: label.trim() } : {}),
          ...(daily ? { rhythm: mornings } : {}),
        })
        onClose()
        return {
          say: `${tracked ? `${plural(tracked, 'keyword')} tracked` : 'Already tracked there'}${made ? `, ${formatWhole(made)} of them new` : ''}`,
          actId,
        }
      }),
    )
  }
  const toggle = (id: number, on: boolean) => {
    const next = new Set(chosen)
    if (on) next.add(id)
    else next.delete(id)
    setChosen(next)
  }
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm">
      <form onSubmit={save}>
        <DialogTitle>Track keywords</DialogTitle>
        <DialogContent sx={{ display: 'flex', flexDirection: 'column', gap: 2, pt: '8px !important' }}>
          <TextField
            select
            label="From"
            value={from}
            onChange={event => setFrom(event.target.value as CandidateSource | 'lines')}
          >
            {Object.entries(froms).map(([value, text]) => (
              <MenuItem key={value} value={value}>
                {text}
              </MenuItem>
            ))}
          </TextField>
          {from === 'lines' ? (
            <>
              <TextField
                multiline
                minRows={4}
                maxRows={10}
                label="Keywords, one a line"
                value={lines}
                onChange={event => setLines(event.target.value)}
                error={tooLong > 0}
                helperText={tooLong > 0 ? `${plural(tooLong, 'line')} of over 200 characters` : ''}
              />
              <button
                type="button"
                className="link"
                style={{ alignSelf: 'flex-start' }}
                onClick={() =>
                  change(params => {
                    params.delete('setup')
                    setParam('import', 'positions')(params)
                  })
                }
              >
                With positions of earlier days: import a file
              </button>
            </>
          ) : (
            <>
              {from === 'rival' && (
                <TextField
                  label="Site"
                  placeholder="clayharbour.example"
                  value={rival}
                  onChange={event => setRival(event.target.value)}
                  onBlur={() => setAsked(rival.trim())}
                  onKeyDown={event => {
                    if (event.key !== 'Enter') return
                    event.preventDefault()
                    setAsked(rival.trim())
                  }}
                  helperText="Keywords for which it stands within the first 20, by fetched results and the rankings feed"
                />
              )}
              {error && (
                <p className="fall" role="alert">
                  {error.message}
                </p>
              )}
              {data && (
                <>
                  <TextField
                    label={`How many, of ${formatWhole(data.all)}`}
                    type="number"
                    value={most}
                    onChange={event => setMost(event.target.value)}
                    slotProps={{ htmlInput: { min: 1, max: 2_000 } }}
                    sx={{ width: 180 }}
                  />
                  {taken.length === 0 ? (
                    <p className="quiet">Nothing is there{data.all ? ' of so few' : ''}.</p>
                  ) : (
                    <table className="results whole-cells">
                      <tbody>
                        {taken.slice(0, shownAtFirst).map(each => (
                          <tr key={each.phrase}>
                            <td>{each.phrase}</td>
                            <td className="n">
                              {each.searches === null ? (
                                <span className="unknown">unknown</span>
                              ) : (
                                `${formatWhole(each.searches)} searches`
                              )}
                            </td>
                            <td className="n">
                              {each.clicks !== null
                                ? `${formatWhole(each.clicks)} clicks`
                                : each.position !== null
                                  ? `it stands at ${formatOne(each.position)}`
                                  : ''}
                            </td>
                            <td className="quiet">{each.tracked ? 'tracked' : ''}</td>
                          </tr>
                        ))}
                      </tbody>
                    </table>
                  )}
                  {taken.length > shownAtFirst && (
                    <span className="quiet">and {formatWhole(taken.length - shownAtFirst)} more</span>
                  )}
                </>
              )}
            </>
          )}
          <fieldset className="plain-fields">
            <legend>Checked in</legend>
            {offered.map(each => (
              <FormControlLabel
                key={each.id}
                control={
                  <Checkbox
                    size="small"
                    checked={chosen.has(each.id)}
                    onChange={event => toggle(each.id, event.target.checked)}
                  />
                }
                label={`${formatMarket(each)}${each.paused ? ', paused' : ''}`}
              />
            ))}
          </fieldset>
          <TextField
            label="Label (may be empty)"
            value={label}
            onChange={event => setLabel(event.target.value)}
            slotProps={{ htmlInput: { maxLength: 80, pattern: '[^|]*' } }}
          />
          <FormControlLabel
            control={<Checkbox size="small" checked={daily} onChange={event => setDaily(event.target.checked)} />}
            label="Check these markets every day at 6"
          />
          <p className="quiet" style={{ margin: 0 }} role="status">
            {plural(phrases.length, 'keyword')} in {plural(chosen.size, 'market')}: {plural(requests, 'request')}
            {daily ? ' a day' : ' a check'}. Rivals are read off the same result pages.
            {left !== null && ` ${formatWhole(left)} requests are left today by your limit.`}
            {left !== null && requests > left && ' A check stops there and goes on the next day.'}
          </p>
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Cancel</Button>
          <Button
            type="submit"
            variant="contained"
            disabled={saving.pending || !phrases.length || !chosen.size || tooLong > 0}
          >
            Track {phrases.length ? plural(phrases.length, 'keyword') : 'them'}
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  )
}
