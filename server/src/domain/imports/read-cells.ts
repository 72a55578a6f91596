import { firstDay, lastDay } from '@dew-trail/contract/common'

export type Cell<T> = { value: T } | { wrong: string }

/** More than anything that is counted here, and as much as the database's integers hold. */
export const mostCounted = 2_000_000_000

/**
 * A number from `least` to `most` as people write it: "1,300", "1.300,50", "1 300", "£1.84", "12%" (as 0.12), "1e-7", with a minus sign
 * of any kind. Empty, "-", "–", "n/a", "unknown" are unknown (null). A comma before exactly three digits parts thousands, but not behind
 * a leading zero; a point does so only where `counts` says that the column holds whole numbers.
 */
export function readNumber(
  text: string,
  counts = false,
  least = -mostCounted,
  most = mostCounted,
): Cell<number | null> {
  const cell = numberIn(text, counts)
  if ('wrong' in cell || cell.value === null) return cell
  if (cell.value < least) return { wrong: `is below ${least}` }
  if (cell.value > most) return { wrong: `is above ${most.toLocaleString('en')}` }
  return cell
}

/** Thirds of the scale from 0 to 1, as programs name them in English and German, by their middles. */
const competitionWords: ReadonlyArray<[RegExp, number]> = [
  [/^(low|niedrig|gering)$/i, 1 / 6],
  [/^(medium|mid|mittel)$/i, 1 / 2],
  [/^(high|hoch)$/i, 5 / 6],
]
/** Advertiser competition 0 to 1: a number, a percentage with or without its sign, or a word for a third of the scale, read as its middle. */
export function readCompetition(text: string): Cell<number | null> {
  const word = competitionWords.find(([pattern]) => pattern.test(text.trim()))
  if (word) return { value: word[1] }
  const cell = readNumber(text, false, 0, 100)
  return 'wrong' in cell || cell.value === null || cell.value <= 1 ? cell : { value: cell.value / 100 }
}

function numberIn(text: string, counts: boolean): Cell<number | null> {
  // What programs write is read without further ado.
  if (/^\d{1,15}$/.test(text) || (!counts && /^\d{1,15}\.\d+$/.test(text))) return { value: Number(text) }
  const trimmed = text.trim()
  if (/^(|-|–|—|n\/a|na|null|unknown|\(not set\))$/i.test(trimmed)) return { value: null }
  const percent = trimmed.endsWith('%')
  let digits = trimmed
    .replace(/[%\s'’]/g, '')
    .replace(/^[\u2212\u2013\ufe63\uff0d]/, '-')
    .replace(/^(\p{Sc}|[A-Z]{3})|(\p{Sc}|[A-Z]{3})$/gu, '')
  const comma = digits.lastIndexOf(',')
  const point = digits.lastIndexOf('.')
  if (comma >= 0 && point >= 0)
    digits = comma > point ? digits.replaceAll('.', '').replace(',', '.') : digits.replaceAll(',', '')
  else if (comma >= 0)
    digits = /^[+-]?[1-9]\d{0,2}(,\d{3})+$/.test(digits) ? digits.replaceAll(',', '') : digits.replace(',', '.')
  else if ((counts ? /^[+-]?\d{1,3}(\.\d{3})+$/ : /^[+-]?\d{1,3}(\.\d{3}){2,}$/).test(digits))
    digits = digits.replaceAll('.', '')
  if (!/^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d{1,3})?$/i.test(digits)) return { wrong: 'is not a number' }
  return { value: percent ? Number(digits) / 100 : Number(digits) }
}

/** A date as YYYY-MM-DD, DD.MM.YYYY or YYYY/MM/DD, with or without a time behind it, from 1990 on and not after `latest`. */
export function readDate(text: string, latest = lastDay): Cell<string> {
  const trimmed = text.trim()
  const iso = /^(\d{4})[-/](\d{1,2})[-/](\d{1,2})([T ].*)?$/.exec(trimmed)
  const german = /^(\d{1,2})\.(\d{1,2})\.(\d{4})$/.exec(trimmed)
  const [year, month, day] = iso
    ? [iso[1]!, iso[2]!, iso[3]!]
    : german
      ? [german[3]!, german[2]!, german[1]!]
      : ['', '', '']
  const date = `${year}-${month.padStart(2, '0')}-${day.padStart(2, '0')}`
  if (!year || Number.isNaN(Date.parse(date)) || new Date(Date.parse(date)).toISOString().slice(0, 10) !== date)
    return { wrong: 'is not a date like 2026-11-23' }
  if (date < firstDay) return { wrong: `lies before ${firstDay}` }
  if (date > latest) return { wrong: latest === lastDay ? `lies after ${lastDay}` : 'lies in the future' }
  return { value: date }
}

/** A day-vector value: a place from 1, ">100" or "not found" as not found within that depth (100 unless told), empty as not checked. */
export function readPosition(text: string): Cell<number> {
  const trimmed = text.trim().toLowerCase()
  if (trimmed === '' || trimmed === '-' || trimmed === '–') return { value: 0 }
  const beyond = /^(?:>|over |not in top |beyond )\s*(\d{1,3})\+?$/.exec(trimmed) ?? /^(\d{1,3})\+$/.exec(trimmed)
  if (beyond) return Number(beyond[1]) >= 1 ? { value: -Number(beyond[1]) } : { wrong: 'is not a position' }
  if (/^(not found|none|not ranking|nr|out)$/.test(trimmed)) return { value: -100 }
  const position = Number(trimmed)
  return Number.isInteger(position) && position >= 1 && position <= 1_000
    ? { value: position }
    : { wrong: 'is not a position from 1 to 1000, ">100" or empty' }
}
