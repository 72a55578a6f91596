/** A whole number with its thousands parted: "1,234". */
export const wholeNumber = (value: number): string => Math.round(value).toLocaleString('en').replace('-', '−')
/** One digit after the point, none where it is 0: "41.2", "41". */
export const oneDigit = (value: number): string =>
  value.toLocaleString('en', { maximumFractionDigits: 1 }).replace('-', '−')
/** "up 3.8", "down 2", "as before"; null where it is not known. */
export function changeWords(change: number | null, write: (value: number) => string = oneDigit): string | null {
  if (change === null) return null
  const size = write(Math.abs(change))
  return size === '0' ? 'as before' : `${change > 0 ? 'up' : 'down'} ${size}`
}
/** "+3", "−2", "0". */
export const signed = (value: number, write: (value: number) => string = wholeNumber): string => {
  const size = write(Math.abs(value))
  return size === '0' ? '0' : `${value > 0 ? '+' : '−'}${size}`
}
