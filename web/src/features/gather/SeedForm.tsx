import { addressWays, gatherWays, startGathering } from '@dew-trail/contract/gather'
import { Button } from '@mui/material'
import { type FormEvent, memo, useState } from 'react'
import { call } from '../../api/call.ts'
import { later } from '../../ui/later.tsx'
import { useChange } from '../../ui/use-change.ts'
import { useSite } from '../../ui/site-context.ts'
import { TextInput } from '../../ui/TextInput.tsx'
import { firstChoices, numberTyped } from './seed-choices.ts'

// Shown when the seeds are first touched.
const SeedOptions = later(
  () => import('./SeedOptions.tsx'),
  module => module.default,
)

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
  const { site, market } = useSite()
  const [text, setText] = useState('')
  const [choices, setChoices] = useState(firstChoices)
  const [more, setMore] = useState(false)
  const [error, setError] = useState<string | null>(null)
  const { ways, groups, least, leaveOut } = choices
  const shapes = new Set(linesOf(text).map(line => looksLikeAddress(line)))
  // While nothing is typed, the ways of a phrase; then those that fit what is typed.
  const shownWays = gatherWays.filter(
    way =>
      way === 'ads' ||
      ((addressWays as readonly string[]).includes(way) ? shapes.has(true) : shapes.has(false) || !shapes.size),
  )
  const gathering = useChange()
  const start = (event?: FormEvent): void => {
    event?.preventDefault()
    void gathering.run(begin)
  }
  const begin = async (): Promise<void> => {
    const seeds = linesOf(text)
    if (!seeds.length) {
      setError('Type a seed first')
      return
    }
    const wrong = Object.values(least).find(each => Number.isNaN(numberTyped(each)))
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
          searches: numberTyped(least.searches),
          cpc: numberTyped(least.cpc),
          wordsFrom: numberTyped(least.wordsFrom),
          wordsTo: numberTyped(least.wordsTo),
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
      <TextInput
        label="Seeds, one a line"
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
            start()
          }
        }}
      />
      {more && <SeedOptions choices={choices} onChange={setChoices} shownWays={shownWays} />}
      <Button
        type="submit"
        variant="contained"
        disabled={gathering.pending || !ways.some(way => shownWays.includes(way))}
      >
        Gather
      </Button>
    </form>
  )
})
