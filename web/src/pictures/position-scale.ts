/** Where a position stands on a picture of `width` pixels: the first at the left end, the hundredth at the right, by logarithm. */
export const positionX = (position: number, width: number): number =>
  6 + (Math.log(Math.min(100, position)) / Math.log(100)) * (width - 12)
export const scalePositions = [1, 3, 10, 30, 100] as const
