import type { Market } from '@dew-trail/contract/sites'

const whole = new Intl.NumberFormat(undefined, { maximumFractionDigits: 0 })
const money = new Intl.NumberFormat(undefined, { minimumFractionDigits: 2, maximumFractionDigits: 2 })
const oneDigit = new Intl.NumberFormat(undefined, { maximumFractionDigits: 1 })
const plain = new Intl.NumberFormat()
const dayFormat = new Intl.DateTimeFormat(undefined, {
  day: 'numeric',
  month: 'short',
  year: 'numeric',
  timeZone: 'UTC',
})
const shortDay = new Intl.DateTimeFormat(undefined, { day: 'numeric', month: 'short', timeZone: 'UTC' })
const momentFormat = new Intl.DateTimeFormat(undefined, {
  day: 'numeric',
  month: 'short',
  hour: '2-digit',
  minute: '2-digit',
  hourCycle: 'h23',
})
const timeFormat = new Intl.DateTimeFormat(undefined, { hour: '2-digit', minute: '2-digit' })
const monthFormat = new Intl.DateTimeFormat(undefined, { month: 'short', year: 'numeric', timeZone: 'UTC' })

/** Formats each text once: a table asks for the same few days and months over and over, and Intl is slow. */
function remembered(format: (text: string) => string): (text: string) => string {
  const known = new Map<string, string>()
  return text => {
    let formatted = known.get(text)
    if (formatted === undefined) {
      formatted = format(text)
      known.set(text, formatted)
    }
    return formatted
  }
}

export const formatWhole = (value: number): string => whole.format(value)
export const formatMoney = (value: number): string => money.format(value)
export const formatOne = (value: number): string => oneDigit.format(value)
/** A number as somebody typed it, with its digits. */
export const formatLimit = (value: number): string => plain.format(value)
/** "+0.40", "−1.20", "0.00": how much something adds or takes. */
export const formatSigned = (value: number): string =>
  `${value > 0 ? '+' : value < 0 ? '−' : ''}${Math.abs(value).toFixed(2)}`
export const formatShare = (value: number): string => `${Math.round(value * 100)}%`
/** A chance in percent; never none and never all, since no prediction is sure. */
export const formatChance = (chance: number): string =>
  chance >= 0.995 ? '>99%' : chance < 0.005 ? '<1%' : formatShare(chance)
export const formatDay = remembered(iso => dayFormat.format(new Date(`${iso.slice(0, 10)}T00:00:00Z`)))
export const formatShortDay = remembered(iso => shortDay.format(new Date(`${iso.slice(0, 10)}T00:00:00Z`)))
export const formatMonth = remembered(yearMonth => monthFormat.format(new Date(`${yearMonth}-01T00:00:00Z`)))
/** The time of a moment, by the reader's clock: "14:02". */
export const formatTime = (iso: string): string => timeFormat.format(new Date(iso))
/** Day and time of a moment, by the reader's clock: "Nov 29, 14:02". */
export const formatMoment = (iso: string): string => momentFormat.format(new Date(iso))
export const plural = (count: number, one: string, many = `${one}s`): string =>
  `${formatWhole(count)} ${count === 1 ? one : many}`
/** "40 s", "3 min", "1 h 5 min". */
export function formatTimeLeft(seconds: number): string {
  if (seconds < 90) return `${seconds} s`
  const minutes = Math.round(seconds / 60)
  return minutes < 90 ? `${minutes} min` : `${Math.floor(minutes / 60)} h ${minutes % 60} min`
}
const upper = (text: string): string =>
  text
    .split('-')
    .map(part => part.charAt(0).toUpperCase() + part.slice(1))
    .join(' ')
const languageNames = new Intl.DisplayNames(['en'], { type: 'language', fallback: 'code' })
/** An engine as it is written on screens. */
export const engineName = (engine: string): string => upper(engine)
/** What the user calls a market, or "Lantern · Tarrow · English · desktop". */
export const formatMarket = (
  market: Pick<Market, 'engine' | 'place' | 'language' | 'device'> & Partial<Pick<Market, 'name'>>,
): string =>
  market.name ??
  `${engineName(market.engine)} · ${upper(market.place)} · ${languageNames.of(market.language)} · ${market.device}`
export const today = (): string => new Date().toISOString().slice(0, 10)
export const daysAgo = (days: number): string => new Date(Date.now() - days * 86_400_000).toISOString().slice(0, 10)
/** How long ago a moment was, as a person says it: "3 min ago", "5 days ago". */
export function formatAge(iso: string, now = Date.now()): string {
  const minutes = Math.max(0, Math.round((now - Date.parse(iso)) / 60_000))
  if (minutes < 1) return 'just now'
  if (minutes < 90) return `${minutes} min ago`
  const hours = Math.round(minutes / 60)
  return hours < 36 ? `${hours} h ago` : `${plural(Math.round(hours / 24), 'day')} ago`
}

/** Doubt in two digits; below 0 with a minus sign. */
export const formatDoubt = (doubt: number): string => doubt.toFixed(2).replace('-', '−')
