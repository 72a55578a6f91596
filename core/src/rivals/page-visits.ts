/** How far a single estimate is believed beside the mean of all: the highest of many are high by error, too. */
const believed = 0.5
/** How much more than in proportion a page brings where its site gets on the first page of similar keywords more easily. */
const ease = 1.5

/**
 * Visits a month that a new page for each keyword may bring with all it is found by, NaN = unknown. `could`: what is expected of the keyword
 * itself; it counts half, the mean of all half. `beside`: what own pages bring beside their top keyword on average. Both go with the chances
 * around the keyword (`subjectChances`; unknown: as on average), and the mean over all keywords stays what it is.
 */
export function pageVisits(could: ArrayLike<number>, around: ArrayLike<number>, beside: number): Float64Array {
  const ofKnown = (list: ArrayLike<number>): number[] => Array.from(list).filter(value => !Number.isNaN(value))
  const mean = (list: readonly number[]): number => list.reduce((sum, value) => sum + value, 0) / list.length
  const meanCould = mean(ofKnown(could))
  const eases = Array.from(around, chance => chance ** ease)
  const meanEase = mean(ofKnown(eases).length ? ofKnown(eases) : [1])
  return Float64Array.from(could, (value, i) => {
    const part = Number.isNaN(eases[i]!) || !meanEase ? 1 : eases[i]! / meanEase
    return part * (believed * value + (1 - believed) * meanCould + beside)
  })
}
