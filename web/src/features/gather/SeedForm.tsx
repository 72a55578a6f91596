import { addressWays, gatherWays, startGathering } from '@dew-trail/contract/gather'
import { Button } from '@mui/material'
import { type FormEvent, memo, useId, useState } from 'react'
import { call } from '../../api/call.ts'
import { later } from '../../ui/later.tsx'
import { useChange } from '../../ui/use-change.ts'
import { useSite } from '../../ui/site-context.ts'
import { TextInput } from '../../ui/TextInput.tsx'
import { SeedSuggestions } from './SeedSuggestions.tsx'
import { firstChoices, numberTyped } from './seed-choices.ts'
import { engineName } from '../../ui/format.ts'
import { useSuggestions } from './use-suggestions.ts'

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
  const [focused, setFocused] = useState(false)
  const [active, setActive] = useState(-1)
  const listId = useId()
  // The line that is typed is the last; a site or page has no completions.
  const lastLine = text.slice(text.lastIndexOf('\n') + 1)
  const typed = focused && !looksLikeAddress(lastLine.trim()) ? lastLine.trimStart().toLowerCase() : ''
  const { phrases, problem } = useSuggestions(typed)
  const isOpen = focused && (phrases.length > 0 || problem !== null)
  const pick = (phrase: string): void => {
    setText(text.slice(0, text.length - lastLine.length) + phrase)
    setActive(-1)
  }
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
        helperText={error ?? (more ? 'One a line. +word: must have, in any form; −word: without.' : undefined)}
        inputProps={{
          // A box of several lines is no combobox, but may point at what is active.
          'aria-autocomplete': 'list',
          ...(isOpen ? { 'aria-controls': listId } : {}),
          ...(isOpen && active >= 0 ? { 'aria-activedescendant': `${listId}-${active}` } : {}),
        }}
        onChange={event => {
          setText(event.target.value)
          setActive(-1)
          setFocused(true)
          setError(null)
        }}
        onFocus={() => {
          setMore(true)
          setFocused(true)
        }}
        onBlur={() => setFocused(false)}
        onKeyDown={event => {
          if (isOpen && phrases.length && (event.key === 'ArrowDown' || event.key === 'ArrowUp')) {
            event.preventDefault()
            const step = event.key === 'ArrowDown' ? 1 : -1
            // One more place than phrases: what was typed.
            setActive(((active + 1 + step + phrases.length + 1) % (phrases.length + 1)) - 1)
            return
          }
          if (event.key === 'Escape' && isOpen) {
            event.stopPropagation()
            setFocused(false)
            return
          }
          if (event.key === 'Enter' && !event.shiftKey && phrases[active]) {
            event.preventDefault()
            pick(phrases[active].phrase)
            return
          }
          if (event.key === 'Enter' && !event.shiftKey) {
            event.preventDefault()
            start()
          }
        }}
      />
      {isOpen && (
        <SeedSuggestions
          id={listId}
          phrases={phrases}
          problem={problem}
          active={active}
          engine={engineName(market.engine)}
          onPick={pick}
        />
      )}
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
