/** Shares of clicks (0–1) at a place: the default, that of the own log, and the one that visits are counted by. */
export type ClickPosition = {
  position: number
  standard: number
  fitted: number | null
  used: number
  impressions: number
}

/** Whether visits are counted neither by the default nor by the log's curve, so by a share that the owner set. */
export const isSetByOwner = (positions: readonly ClickPosition[]): boolean =>
  positions.some(({ standard, fitted, used }) => Math.abs(used - (fitted ?? standard)) > 1e-9)
