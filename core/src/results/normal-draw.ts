/** A draw from the normal distribution by two even ones (Box & Muller 1958). For tests. */
export const normalDraw = (draw: () => number): number =>
  Math.sqrt(-2 * Math.log(1 - draw())) * Math.cos(2 * Math.PI * draw())
