import { type GatherWay, gatherWays, startGathering } from '@dew-trail/contract/gather'
import { Button, Checkbox, FormControlLabel, MenuItem, TextField } from '@mui/material'
import { type FormEvent, useState } from 'react'
import { call } from '../api/call.ts'
import { formatMarket } from '../format.ts'
import { useSite } from '../shell/site-context.ts'

const wayNames: Record<GatherWay, string> = {
  completions: 'Completions',
  related: 'Related searches',
  ads: 'Ideas from ads data',
}

/** Starts gathering: seeds (one a line), market, ways. Enter starts; Shift and Enter begins a new line. */
export function SeedForm({ onStarted }: { onStarted(gatheringId: number): void }) {
  const { site, market, setMarket } = useSite()
  const [text, setText] = useState('')
  const [ways, setWays] = useState<GatherWay[]>([...gatherWays])
  const [more, setMore] = useState(false)
  const [error, setError] = useState<string | null>(null)
  const start = async (event?: FormEvent) => {
    event?.preventDefault()
    const seeds = text
      .split('\n')
      .map(line => line.trim())
      .filter(Boolean)
    if (!seeds.length) {
      setError('Type a seed first')
      return
    }
    try {
      const { jobs } = await call(startGathering, { siteId: site.id, marketId: market.id, seeds, ways })
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
        placeholder="Seed, such as pottery wheel"
        error={error !== null}
        helperText={error}
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
            {gatherWays.map(way => (
              <FormControlLabel
                key={way}
                sx={{ display: 'flex', height: 26 }}
                label={wayNames[way]}
                control={
                  <Checkbox
                    checked={ways.includes(way)}
                    onChange={(_, on) => setWays(on ? [...ways, way] : ways.filter(each => each !== way))}
                  />
                }
              />
            ))}
          </div>
        </>
      )}
      <Button type="submit" variant="contained" disabled={!ways.length}>
        Gather
      </Button>
    </form>
  )
}
