import {
  addressWays,
  type CompletionGroup,
  completionGroups,
  type GatherWay,
  gatherWays,
  startGathering,
} from '@dew-trail/contract/gather'
import { Button, Checkbox, FormControlLabel, MenuItem, TextField } from '@mui/material'
import { type FormEvent, useState, memo } from 'react'
import { call } from '../../api/call.ts'
import { formatMarket } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'

const wayNames: Record<GatherWay, string> = {
  completions: 'Completions',
  related: 'Related searches',
  page: 'Words of the page or site',
  rival: 'What it ranks and pays for',
  ads: 'Ideas from ads data',
}

const groupNames: Record<CompletionGroup, string> = {
  plain: 'the seed alone',
  letters: 'and each letter',
  questions: 'and question words',
  prepositions: 'and prepositions',
  comparisons: 'and comparison words',
}
type Least = { searches: string; cpc: string; wordsFrom: string; wordsTo: string }
const nothing: Least = { searches: '', cpc: '', wordsFrom: '', wordsTo: '' }
/** A number as typed; `null` where nothing is, NaN where it is no number. */
const numberOf = (text: string): number | null => (text.trim() === '' ? null : Number(text.replace(',', '.')))

const linesOf = (text: string): string[] =>
  text
    .split('\n')
    .map(line => line.trim())
    .filter(Boolean)
/** Whether a line is a site or page rather than a phrase; the server decides. */
const looksLikeAddress = (line: string): boolean =>
  /^(https?:\/\/\S+|[a-z0-9-]+(\.[a-z0-9-]+)*\.[a-z]{2,}(\/\S*)?)(\s+[+-]\S+)*$/i.test(line)

/** Starts gathering: seeds (one a line), market, ways. Enter starts; Shift and Enter begins a new line. */
export const SeedForm = memo(function SeedForm({ onStarted }: { onStarted(gatheringId: number): void }) {
  const { site, market, setMarket } = useSite()
  const [text, setText] = useState('')
  const [ways, setWays] = useState<GatherWay[]>([...gatherWays])
  const [groups, setGroups] = useState<CompletionGroup[]>([...completionGroups])
  const [leaveOut, setLeaveOut] = useState('')
  const [least, setLeast] = useState<Least>(nothing)
  const [more, setMore] = useState(false)
  const [conditions, setConditions] = useState(false)
  const [error, setError] = useState<string | null>(null)
  const shapes = new Set(linesOf(text).map(line => looksLikeAddress(line)))
  // While nothing is typed, the ways of a phrase; then those that fit what is typed.
  const shownWays = gatherWays.filter(
    way =>
      way === 'ads' ||
      ((addressWays as readonly string[]).includes(way) ? shapes.has(true) : shapes.has(false) || !shapes.size),
  )
  const start = async (event?: FormEvent) => {
    event?.preventDefault()
    const seeds = linesOf(text)
    if (!seeds.length) {
      setError('Type a seed first')
      return
    }
    const wrong = Object.values(least).find(each => Number.isNaN(numberOf(each)))
    if (wrong !== undefined) {
      setError(`"${wrong}" is not a number`)
      return
    }
    try {
      const { jobs } = await call(startGathering, {
        siteId: site.id,
        marketId: market.id,
        seeds,
        ways,
        completions: groups.length ? groups : ['plain'],
        conditions: {
          leaveOut: leaveOut
            .split(',')
            .map(word => word.trim())
            .filter(Boolean),
          searches: numberOf(least.searches),
          cpc: numberOf(least.cpc),
          wordsFrom: numberOf(least.wordsFrom),
          wordsTo: numberOf(least.wordsTo),
        },
      })
      setText('')
      setError(null)
      onStarted(jobs[0]!.gatheringId)
    } catch (failure) {
      setError((failure as Error).message)
    }
  }
  return (
    <form onSubmit={start} style={{ display: 'flex', flexDirection: 'column', gap: 8 }}>
      <TextField
        multiline
        maxRows={6}
        value={text}
        placeholder="Seed: a phrase, site or page"
        error={error !== null}
        helperText={error ?? (more ? 'One a line. +word: must have; −word: without.' : undefined)}
        onChange={event => {
          setText(event.target.value)
          setError(null)
        }}
        onFocus={() => setMore(true)}
        onKeyDown={event => {
          if (event.key === 'Enter' && !event.shiftKey) {
            event.preventDefault()
            void start()
          }
        }}
        slotProps={{ htmlInput: { 'aria-label': 'Seeds, one a line' } }}
      />
      {more && (
        <>
          <TextField
            select
            value={market.id}
            onChange={event => setMarket(Number(event.target.value))}
            slotProps={{ htmlInput: { 'aria-label': 'Market' } }}
          >
            {site.markets.map(each => (
              <MenuItem key={each.id} value={each.id}>
                {formatMarket(each)}
              </MenuItem>
            ))}
          </TextField>
          <div>
            {shownWays.map(way => (
              <div key={way}>
                <FormControlLabel
                  sx={{ display: 'flex', height: 26 }}
                  label={wayNames[way]}
                  control={
                    <Checkbox
                      checked={ways.includes(way)}
                      onChange={(_, on) => setWays(on ? [...ways, way] : ways.filter(each => each !== way))}
                    />
                  }
                />
                {way === 'completions' && ways.includes(way) && (
                  <div style={{ paddingLeft: 22 }}>
                    {completionGroups.map(group => (
                      <FormControlLabel
                        key={group}
                        sx={{ display: 'flex', height: 24, '& .MuiFormControlLabel-label': { fontSize: 12 } }}
                        label={groupNames[group]}
                        control={
                          <Checkbox
                            checked={groups.includes(group)}
                            onChange={(_, on) =>
                              setGroups(on ? [...groups, group] : groups.filter(each => each !== group))
                            }
                          />
                        }
                      />
                    ))}
                  </div>
                )}
              </div>
            ))}
          </div>
          <button type="button" className="link" aria-expanded={conditions} onClick={() => setConditions(!conditions)}>
            {conditions ? 'Without conditions' : 'Conditions before storing'}
          </button>
          {conditions && (
            <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 6 }}>
              {(
                [
                  ['searches', 'searches from'],
                  ['cpc', 'CPC from'],
                  ['wordsFrom', 'words from'],
                  ['wordsTo', 'words to'],
                ] as const
              ).map(([key, label]) => (
                <TextField
                  key={key}
                  value={least[key]}
                  placeholder={label}
                  error={Number.isNaN(numberOf(least[key]))}
                  onChange={event => setLeast({ ...least, [key]: event.target.value })}
                  slotProps={{ htmlInput: { 'aria-label': label, inputMode: 'decimal' } }}
                />
              ))}
              <TextField
                value={leaveOut}
                placeholder="leave out: used, second hand"
                onChange={event => setLeaveOut(event.target.value)}
                sx={{ gridColumn: '1 / -1' }}
                slotProps={{ htmlInput: { 'aria-label': 'Words to leave out, separated by commas' } }}
              />
            </div>
          )}
        </>
      )}
      <Button type="submit" variant="contained" disabled={!ways.some(way => shownWays.includes(way))}>
        Gather
      </Button>
    </form>
  )
})
