/** One day's results: the pages in order of position, by number (1 and up; 0 = a position whose page is not known), and how deep was looked. */
export type DayResults = { day: number; depth: number; pages: readonly number[] }

const version = 1

/**
 * Bytes of the result pages of one keyword, market and month. Pages are listed once, in order of their numbers, and each day refers to
 * them: pages come back day after day, so that a result takes one to two bytes. `days` may come in any order; of two of one day the later
 * counts. Days are those of the month, 1 to 31; numbers below 2^31. Throws a RangeError on anything else. O(results × log pages).
 */
export function encodeMonth(days: readonly DayResults[]): Uint8Array {
  const byDay = [...new Map(days.map(each => [each.day, each])).values()].sort((a, b) => a.day - b.day)
  const pages = [...new Set(byDay.flatMap(each => each.pages))].sort((a, b) => a - b)
  const codeOf = new Map(pages.map((page, code) => [page, code]))
  const out: number[] = [version]
  writeCount(out, pages.length)
  let before = 0
  for (const page of pages) {
    if (!Number.isInteger(page) || page < 0 || page > 0x7fffffff) throw new RangeError(`${page} is no number of a page`)
    writeCount(out, page - before)
    before = page
  }
  writeCount(out, byDay.length)
  for (const { day, depth, pages: listed } of byDay) {
    if (!Number.isInteger(day) || day < 1 || day > 31) throw new RangeError(`${day} is no day of a month`)
    out.push(day)
    writeCount(out, depth)
    writeCount(out, listed.length)
    for (const page of listed) writeCount(out, codeOf.get(page)!)
  }
  return Uint8Array.from(out)
}

/** The days of a month that `encodeMonth` wrote, the earliest first. Throws a RangeError on bytes that it did not write. */
export function decodeMonth(bytes: Uint8Array): DayResults[] {
  const from = { at: 0 }
  if (bytes[from.at++] !== version) throw new RangeError('these bytes hold no month of results')
  const pages: number[] = []
  for (let left = readCount(bytes, from), page = 0; left > 0; left--) pages.push((page += readCount(bytes, from)))
  const days: DayResults[] = []
  for (let left = readCount(bytes, from); left > 0; left--) {
    const day = bytes[from.at++]!
    const depth = readCount(bytes, from)
    const listed: number[] = []
    for (let results = readCount(bytes, from); results > 0; results--) listed.push(pages[readCount(bytes, from)]!)
    days.push({ day, depth, pages: listed })
  }
  if (from.at !== bytes.length) throw new RangeError('these bytes hold more than a month of results')
  return days
}

/** A whole number of 0 and up, seven bits a byte, the lowest first. */
function writeCount(out: number[], count: number): void {
  let rest = count
  for (; rest > 127; rest = Math.floor(rest / 128)) out.push(128 + (rest % 128))
  out.push(rest)
}
function readCount(bytes: Uint8Array, from: { at: number }): number {
  let count = 0
  for (let unit = 1; ; unit *= 128) {
    const byte = bytes[from.at++]
    if (byte === undefined) throw new RangeError('these bytes end in the middle of a number')
    count += (byte & 127) * unit
    if (byte < 128) return count
  }
}
