import type { Device } from './click-curve.ts'

/**
 * Share of searchers who see a place, for lack of measurement: all see the first three, three quarters the tenth, about a
 * tenth go on to the second page, less than half as many to each further one. Place may be a mean such as 4.6.
 */
export function seenShare(position: number, device: Device): number {
  if (!(position >= 1)) throw new RangeError(`place must be 1 or more, not ${position}`)
  if (position <= 3) return 1
  const tenth = device === 'mobile' ? 0.6 : 0.72
  if (position <= 10) return 1 - ((1 - tenth) * (position - 3)) / 7
  return (device === 'mobile' ? 0.07 : 0.1) * 0.42 ** (Math.ceil(position / 10) - 2)
}

export type LogFigure = { impressions: number; clicks: number; position: number }

/**
 * Searches a month that a query must have at least, from its impressions in the own query log over `days` days at a mean
 * place: I·30/d / seen(p). Beyond the third page the place says too little, and the impressions themselves are the bound.
 */
export function searchesFromLog(log: LogFigure, days: number, device: Device): number {
  if (!(days > 0)) throw new RangeError(`days must be above 0, not ${days}`)
  const monthly = (log.impressions * 30) / days
  return log.position > 30 ? monthly : monthly / seenShare(log.position, device)
}

/**
 * From how many searches a month on, by the log, a keyword counts as hidden demand where the ads data was asked and knows nothing or zero.
 * Only a source that was asked can say so.
 */
export const hiddenFrom = 10
