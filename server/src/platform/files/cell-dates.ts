const dayMs = 86_400_000
/** Days before the first that workbooks count: 31 December 1899, and 1 January 1904 in those of the other kind. */
const [start1900, start1904] = [Date.UTC(1899, 11, 31), Date.UTC(1904, 0, 1)]
/** 29 February 1900, which was no day, has a number all the same (ECMA-376, 18.17.4). */
const noDay = 60

/** Whether a number format of a workbook shows a date: one of the fixed ones, or a code with a year, month, day, hour or second in it. */
export function isDateFormat(id: number, codes: ReadonlyMap<number, string>): boolean {
  const code = codes.get(id)
  if (code === undefined)
    return (id >= 14 && id <= 22) || (id >= 27 && id <= 36) || (id >= 45 && id <= 47) || (id >= 50 && id <= 58)
  const bare = code.replace(/"[^"]*"|\\.|_.|\*.|\[(?![hms]+\])[^\]]*\]/gi, '')
  return !/^general$/i.test(bare) && /[dmyhs]/i.test(bare.split(';')[0]!)
}

/** The day, and the time where there is one, that a number of a workbook stands for; null when it stands for none. */
export function serialDay(serial: number, from1904: boolean): string | null {
  if (!Number.isFinite(serial) || serial < 0 || serial > 3_000_000) return null
  const minutes = Math.round(serial * 1_440)
  const whole = Math.floor(minutes / 1_440)
  const start = from1904 ? start1904 : start1900
  const day = from1904 ? whole : whole > noDay ? whole - 1 : whole
  const iso = new Date(start + day * dayMs + (minutes % 1_440) * 60_000).toISOString()
  return minutes % 1_440 ? `${iso.slice(0, 10)} ${iso.slice(11, 16)}` : iso.slice(0, 10)
}
