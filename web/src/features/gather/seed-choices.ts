import { type CompletionGroup, completionGroups, type GatherWay, gatherWays } from '@dew-trail/contract/gather'

/** How a gathering is to be done, as chosen and typed beside its seeds. `least`, `leaveOut`: as typed. */
export type SeedChoices = {
  ways: GatherWay[]
  groups: CompletionGroup[]
  least: { searches: string; cpc: string; wordsFrom: string; wordsTo: string }
  leaveOut: string
}

export const firstChoices: SeedChoices = {
  ways: [...gatherWays],
  groups: [...completionGroups],
  least: { searches: '', cpc: '', wordsFrom: '', wordsTo: '' },
  leaveOut: '',
}

/** A number as typed; `null` where nothing is, NaN where it is no number. */
export const numberTyped = (text: string): number | null => (text.trim() === '' ? null : Number(text.replace(',', '.')))
