export const monthNames = [
  'January',
  'February',
  'March',
  'April',
  'May',
  'June',
  'July',
  'August',
  'September',
  'October',
  'November',
  'December',
] as const
/** "30 November 2026" of 2026-11-30. */
export const longDay = (day: string): string =>
  `${Number(day.slice(8, 10))} ${monthNames[Number(day.slice(5, 7)) - 1]} ${day.slice(0, 4)}`
/** "30 Nov" of 2026-11-30. */
export const shortDay = (day: string): string =>
  `${Number(day.slice(8, 10))} ${monthNames[Number(day.slice(5, 7)) - 1]!.slice(0, 3)}`
