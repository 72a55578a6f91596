import { type CompletionGroup, completionGroups, type GatherWay } from '@dew-trail/contract/gather'
import { Checkbox, FormControlLabel, MenuItem, TextField } from '@mui/material'
import { useState } from 'react'
import { formatMarket } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { numberTyped, type SeedChoices } from './seed-choices.ts'

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
const bounds = [
  ['searches', 'searches from'],
  ['cpc', 'CPC from'],
  ['wordsFrom', 'words from'],
  ['wordsTo', 'words to'],
] as const

type Props = {
  choices: SeedChoices
  onChange(choices: SeedChoices): void
  /** The ways that fit what is typed. */
  shownWays: readonly GatherWay[]
}

/** Market, ways and conditions of a gathering. */
export default function SeedOptions({ choices, onChange, shownWays }: Props) {
  const { site, market, setMarket } = useSite()
  const [conditions, setConditions] = useState(false)
  const { ways, groups, least, leaveOut } = choices
  const set = (change: Partial<SeedChoices>) => onChange({ ...choices, ...change })
  return (
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
                  onChange={(_, on) => set({ ways: on ? [...ways, way] : ways.filter(each => each !== way) })}
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
                          set({ groups: on ? [...groups, group] : groups.filter(each => each !== group) })
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
          {bounds.map(([key, label]) => (
            <TextField
              key={key}
              value={least[key]}
              placeholder={label}
              error={Number.isNaN(numberTyped(least[key]))}
              onChange={event => set({ least: { ...least, [key]: event.target.value } })}
              slotProps={{ htmlInput: { 'aria-label': label, inputMode: 'decimal' } }}
            />
          ))}
          <TextField
            value={leaveOut}
            placeholder="leave out: used, second hand"
            onChange={event => set({ leaveOut: event.target.value })}
            sx={{ gridColumn: '1 / -1' }}
            slotProps={{ htmlInput: { 'aria-label': 'Words to leave out, separated by commas' } }}
          />
        </div>
      )}
    </>
  )
}
