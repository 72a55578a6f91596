export type Device = 'desktop' | 'mobile'

/**
 * Default share of searchers who click the result at a place, first twenty places, in the absence of an own query log.
 * Rounded means of the trade's published curves. Few go on to a second page, but who does looks at all of it: shares fall slowly there.
 */
export const defaultClickShares: Record<Device, readonly number[]> = {
  desktop: [
    0.28, 0.15, 0.102, 0.073, 0.054, 0.041, 0.032, 0.026, 0.021, 0.018, 0.014, 0.0135, 0.013, 0.0125, 0.012, 0.0115,
    0.011, 0.0105, 0.01, 0.0095,
  ],
  mobile: [
    0.26, 0.14, 0.096, 0.068, 0.05, 0.038, 0.029, 0.023, 0.018, 0.015, 0.0105, 0.01, 0.0096, 0.0092, 0.0088, 0.0084,
    0.008, 0.0077, 0.0074, 0.0071,
  ],
}

/** Of those who opened a page of results beyond the first, so many open the next. */
const furtherPage = 1 / 3

/**
 * Click share (0–1) at a place (1 = first). Each further page of ten is opened by a third of those who opened the one before, and so
 * are shares from 20 on; beyond 100 it is 0.
 * Throws RangeError for a place below 1 or not whole: "not found" has no place and must not reach here.
 */
export function clickShare(position: number, device: Device): number {
  if (!Number.isInteger(position) || position < 1)
    throw new RangeError(`place must be a whole number from 1, not ${position}`)
  return position > lastClicked ? 0 : sharesByPosition[device][position]!
}

const lastClicked = 100
// Reckoned once: sums over years of positions ask for tens of millions of shares.
const byPosition = (shares: readonly number[]): Float64Array =>
  Float64Array.from({ length: lastClicked + 1 }, (_, position) => {
    if (position <= shares.length) return shares[position - 1] ?? 0
    return shares.at(-1)! * furtherPage ** ((position - shares.length) / 10)
  })
const sharesByPosition: Record<Device, Float64Array> = {
  desktop: byPosition(defaultClickShares.desktop),
  mobile: byPosition(defaultClickShares.mobile),
}

/** Click shares by place that take the default's place: `curve[0]` is place 1; beyond its end the default, scaled so that both meet. */
export type ClickCurve = readonly number[]

/** Click share at a place by a fitted curve where there is one, else by the default. */
export function curveShare(position: number, device: Device, curve?: ClickCurve): number {
  if (!curve?.length) return clickShare(position, device)
  if (Number.isInteger(position) && position >= 1 && position <= curve.length) return curve[position - 1]!
  return clickShare(position, device) * (curve.at(-1)! / clickShare(curve.length, device))
}

/** Places whose shares a curve says itself. */
const curvePositions = 20

/**
 * A curve with a given share (0–1) at the first place: that of a log, or the default, in the same proportion at each place. What an owner
 * says of the first place so moves all others along.
 */
export function curveFromFirst(first: number, device: Device, curve?: ClickCurve): ClickCurve {
  const part = first / curveShare(1, device, curve)
  return Array.from({ length: curvePositions }, (_, i) => curveShare(i + 1, device, curve) * part)
}

/** Visits a month from searches a month and a place; `null` where searches are unknown. */
export function expectedVisits(
  searches: number | null,
  position: number,
  device: Device,
  curve?: ClickCurve,
): number | null {
  return searches === null ? null : searches * curveShare(position, device, curve)
}

/**
 * Visits a month expected from the chances of standing within 3, 10 and 20: each band's share of chance times its mean click
 * share. Chances must not fall from one to the next. `null` where searches are unknown.
 */
export function visitsFromChances(
  searches: number | null,
  chances: { within3: number; within10: number; within20: number },
  device: Device,
  curve?: ClickCurve,
): number | null {
  if (searches === null) return null
  const mean = (from: number, to: number): number => {
    let sum = 0
    for (let position = from; position <= to; position++) sum += curveShare(position, device, curve)
    return sum / (to - from + 1)
  }
  const share =
    chances.within3 * mean(1, 3) +
    (chances.within10 - chances.within3) * mean(4, 10) +
    (chances.within20 - chances.within10) * mean(11, 20)
  return searches * share
}
