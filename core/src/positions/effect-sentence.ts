import { type Effect, tooEarlyBefore } from './effect-of-change.ts'

type Reported =
  | { kind: 'wholeSite' }
  | Exclude<Effect, { kind: 'known' }>
  | (Omit<Extract<Effect, { kind: 'known' }>, 'chance' | 'before' | 'after' | 'without'> & {
      visits: { value: number; low: number; high: number } | null
    })

/** Whether a change helped, in a sentence that somebody outside the trade understands. */
export function effectSentence(effect: Reported): string {
  switch (effect.kind) {
    case 'wholeSite':
      return 'It touches the whole site, so that there is nothing to compare with: say which pages, keywords or label it was about.'
    case 'tooEarly':
      return `Too early to say: ${plural(effect.daysLeft, 'more day')} of checks ${effect.daysLeft === 1 ? 'is' : 'are'} needed (${tooEarlyBefore} after the change).`
    case 'tooFew':
      return effect.touched < 2
        ? 'Too few of the keywords it touches are tracked before and after it: two are the least.'
        : 'Too few other keywords are tracked to compare with: eight are the least.'
    case 'known': {
      const { positions, low, high, clear, touched, controls, visits } = effect
      const range = `likely between ${signed(low)} and ${signed(high)}`
      const compared = `${plural(touched, 'keyword')} against ${controls} comparable ones`
      if (!clear)
        return `No clear effect: ${compared} moved by ${signed(positions)} places, ${range}, which also happens by chance.`
      const words = positions > 0 ? 'It helped' : 'It did harm'
      const brought =
        visits === null
          ? ''
          : `, some ${whole(Math.abs(visits.value))} visits a month ${visits.value >= 0 ? 'more' : 'fewer'} (${whole(visits.low)} to ${whole(visits.high)})`
      return `${words}: ${compared} ${positions > 0 ? 'gained' : 'lost'} ${one(Math.abs(positions))} places (${range})${brought}.`
    }
  }
}

const plural = (count: number, noun: string): string => `${count} ${noun}${count === 1 ? '' : 's'}`
const one = (value: number): string => value.toFixed(1).replace('-', '−')
const signed = (value: number): string => `${value > 0.05 ? '+' : ''}${one(Math.abs(value) < 0.05 ? 0 : value)}`
const whole = (value: number): string => Math.round(value).toLocaleString('en').replace('-', '−')
