import { setImmediate as othersAnswered } from 'node:timers/promises'
import { reasonNames, evidenceWords } from '@dew-trail/core/positions/reason-words'
import type { Evidence } from '@dew-trail/core/positions/likely-reason'
import type { Changes, MovedKeyword } from '@dew-trail/contract/track-changes'
import { roundTicks } from '@dew-trail/core/pictures/line-picture'
import { type Figure, type ReportBlock, textBlock } from '@dew-trail/core/reports/report-document'
import { longDay, shortDay } from '@dew-trail/core/days/day-words'
import { changeWords, oneDigit, signed, wholeNumber } from '@dew-trail/core/reports/report-words'
import type pg from 'pg'
import type { Feature } from '../../feature.ts'
import { manyNotes } from '../../domain/notes/queries.ts'
import { DayReader, shiftDay } from '../../domain/positions/day-reader.ts'
import { manyVisibilityBetween, maybeLastDay } from '../../domain/positions/day-queries.ts'
import { manySlots } from '../../domain/positions/slot-queries.ts'
import type { ReportSection, SectionOf } from '../../platform/reports/report-section.ts'
import { readChanges } from './read-changes.ts'
import { readNoteEffect } from './read-effect.ts'
import { visibilityOf } from './read-positions.ts'
import { readShareOfVoice } from './read-voices.ts'

const pictureDays = 90
const [mostMoved, mostVoices] = [15, 10]
const colours = ['#0b4f4a', '#2f8f86', '#7fc1b9', '#c3dcd8', '#e6e6e6']

const changesOf = ({ pool }: { pool: pg.Pool }, { siteId, market, since, asOf }: SectionOf): Promise<Changes> =>
  readChanges(pool, siteId, market.id, since, asOf)

/** Visibility, mean position, keywords on the first page, and visits, each against the day compared with. */
export const trackFigures: NonNullable<Feature['figures']> = async (context, of) => {
  const { pool } = context
  const { siteId, market, since, asOf } = of
  const last = await maybeLastDay(pool, siteId, market.id, asOf)
  if (!last) return []
  const tracked = await manySlots(pool, siteId, market)
  const slots = tracked.map(row => row.slot)
  const reader = new DayReader(pool, siteId, market.id)
  const [now, before] = [await reader.lastKnown(slots, last.day), await reader.lastKnown(slots, since)]
  const rows = tracked.map(row => ({
    ...row,
    now: now.get(row.slot)?.position ?? 0,
    before: before.get(row.slot)?.position ?? 0,
  }))
  await othersAnswered()
  const { now: visibility, change } = visibilityOf(rows, market.device)
  const both = rows.filter(row => row.now !== 0 && row.before !== 0)
  const onFirst = (position: number): boolean => position > 0 && position <= 10
  const count = (of_: 'now' | 'before'): number => both.filter(row => onFirst(row[of_])).length
  const means = meansOf(both.filter(row => row.now > 0 && row.before > 0))
  const { visits } = await changesOf(context, of)
  const figures: Figure[] = [
    {
      label: 'Visibility',
      value: visibility === null ? 'unknown' : oneDigit(visibility),
      change: changeWords(change),
      good: change === null || Math.abs(change) < 0.05 ? null : change > 0,
    },
    {
      label: 'Visits a month, estimated',
      value: visits ? wholeNumber(visits.now) : 'unknown',
      change: visits ? changeWords(visits.now - visits.before, wholeNumber) : null,
      good: visits && Math.abs(visits.now - visits.before) >= 0.5 ? visits.now > visits.before : null,
    },
    {
      label: `On the first page, of ${wholeNumber(rows.filter(row => row.now !== 0).length)}`,
      value: wholeNumber(rows.filter(row => onFirst(row.now)).length),
      change: both.length ? changeWords(count('now') - count('before'), wholeNumber) : null,
      good: count('now') === count('before') ? null : count('now') > count('before'),
    },
  ]
  if (means)
    figures.push({
      label: 'Mean position',
      value: oneDigit(means.now),
      // A smaller number is the better one: "better by" leaves no doubt.
      change:
        Math.abs(means.gained) < 0.05
          ? 'as before'
          : `${oneDigit(Math.abs(means.gained))} ${means.gained > 0 ? 'better' : 'worse'}`,
      good: Math.abs(means.gained) < 0.05 ? null : means.gained > 0,
    })
  return figures
}

function meansOf(rows: ReadonlyArray<{ now: number; before: number }>): { now: number; gained: number } | null {
  if (!rows.length) return null
  const mean = (of: 'now' | 'before'): number => rows.reduce((sum, row) => sum + row[of], 0) / rows.length
  return { now: mean('now'), gained: mean('before') - mean('now') }
}

const visibility: ReportSection = async ({ pool }, { siteId, market, domain, asOf }) => {
  const from = shiftDay(asOf, -pictureDays)
  const days = await manyVisibilityBetween(pool, siteId, market.id, from, asOf)
  if (days.length < 2) return []
  const notes = (await manyNotes(pool, siteId)).filter(note => note.day >= from && note.day <= asOf)
  const highest = Math.max(10, ...days.map(day => day.visibility ?? 0))
  return [
    {
      kind: 'lines',
      picture: {
        title: `Visibility of ${domain}`,
        labels: days.map(each => shortDay(each.day)),
        lines: [{ name: domain, colour: '#b4540a', values: days.map(each => each.visibility) }],
        ticks: roundTicks(highest),
        height: 280,
      },
    },
    ...(notes.length
      ? [
          {
            kind: 'list' as const,
            ordered: false,
            items: notes.toReversed().map(note => [{ text: `${longDay(note.day)}: ` }, { text: note.text }]),
          },
        ]
      : []),
  ]
}

const spread: ReportSection = async ({ pool }, { siteId, market, asOf }) => {
  const days = await manyVisibilityBetween(pool, siteId, market.id, shiftDay(asOf, -pictureDays), asOf)
  const most = Math.max(0, ...days.map(totalOf))
  // A day on which few were checked says nothing of the others.
  const weeks = days.filter(day => totalOf(day) >= most / 2).filter((_, i, all) => (all.length - 1 - i) % 7 === 0)
  if (!weeks.length) return []
  const parts = [
    ['1–3', 'top3'],
    ['4–10', 'top10'],
    ['11–30', 'top30'],
    ['31–100', 'beyond'],
    ['not found', 'notFound'],
  ] as const
  return [
    {
      kind: 'stack',
      picture: {
        title: 'Keywords by position, by week',
        labels: weeks.map(week => shortDay(week.day)),
        parts: parts.map(([name, key], i) => ({ name, colour: colours[i]!, values: weeks.map(week => week[key]) })),
      },
    },
  ]
}
const totalOf = (day: { top3: number; top10: number; top30: number; beyond: number; notFound: number }): number =>
  day.top3 + day.top10 + day.top30 + day.beyond + day.notFound

const happened: ReportSection = async (context, of) => {
  const changes = await changesOf(context, of)
  if (!changes.day || !changes.compared) return [textBlock('No keyword was checked on both days.', true)]
  const { visits, moved, compared, reasons, shifts } = changes
  const won = visits ? visits.now - visits.before : null
  const sentence = [
    `${wholeNumber(moved)} of ${wholeNumber(compared)} keywords moved beyond what they do anyway.`,
    ...(visits
      ? [
          Math.abs(won!) < 0.5
            ? 'Expected visits stayed as they were.'
            : `Expected visits ${won! > 0 ? 'rose' : 'fell'} by ${wholeNumber(Math.abs(won!))} a month, from ${wholeNumber(visits.before)} to ${wholeNumber(visits.now)}.`,
        ]
      : []),
    ...shifts.map(shift => `${shift.engine} changed how it ranks on ${longDay(shift.day)}.`),
  ].join(' ')
  const table: ReportBlock = {
    kind: 'table',
    head: ['Likely reason', 'Keywords', 'Visits won', 'Visits lost'],
    rows: reasons.map(each => [
      reasonNames[each.kind],
      wholeNumber(each.keywords),
      signed(each.won),
      signed(-each.lost),
    ]),
  }
  return [textBlock(sentence), ...(reasons.length ? [table] : [])]
}

const movers: ReportSection = async (context, of) => {
  const { keywords, moved } = await changesOf(context, of)
  if (!keywords.length) return [textBlock('No keyword moved beyond what it does anyway.', true)]
  const position = (value: number): string => (value > 0 ? String(value) : `over ${-value}`)
  const line = (row: MovedKeyword): string[] => [
    row.phrase,
    position(row.before),
    position(row.now),
    row.visits === null ? 'unknown' : signed(row.visits),
    row.reasons[0]!.kind === 'unknown' ? '' : evidenceWords(row.reasons[0]!.evidence as Evidence | null),
  ]
  return [
    {
      kind: 'table',
      head: ['Keyword', 'Before', 'Now', 'Visits', 'Likely reason'],
      rows: keywords.slice(0, of.section.most ?? mostMoved).map(line),
      of: moved,
    },
  ]
}

const effects: ReportSection = async ({ pool }, { siteId, market, since, asOf }) => {
  // What was done up to five weeks before the period shows its effect in it.
  const notes = (await manyNotes(pool, siteId)).filter(note => note.day > shiftDay(since, -35) && note.day <= asOf)
  const items = []
  for (const note of notes.toReversed()) {
    const { effect, sentence } = await readNoteEffect(pool, siteId, note.id, market.id, asOf)
    if (effect.kind === 'wholeSite' || effect.kind === 'tooFew') continue
    items.push([{ text: `${longDay(note.day)}: ${note.text}. `, strong: true }, { text: sentence }])
  }
  return items.length
    ? [{ kind: 'list', ordered: false, items }]
    : [textBlock('Nothing was noted whose effect could be told.', true)]
}

const voices: ReportSection = async ({ pool }, { siteId, market, section }) => {
  const { sites, keywords, from, to } = await readShareOfVoice(pool, siteId, market.id)
  if (!sites.length) return [textBlock('No results of the tracked keywords are known yet.', true)]
  const percent = (share: number): string => `${oneDigit(share * 100)}%`
  return [
    textBlock(
      `Who gets the visits of ${wholeNumber(keywords)} keywords, by their results of ${from === to ? longDay(to!) : `${longDay(from!)} to ${longDay(to!)}`}.`,
    ),
    {
      kind: 'table',
      head: ['Site', 'Share', 'Change', 'Visits a month', 'Within 3', 'Within 10'],
      rows: sites
        .filter((each, i) => i < (section.most ?? mostVoices) || each.own)
        .map(each => [
          each.own ? `${each.domain} (own)` : each.domain,
          percent(each.share),
          each.change === null ? '–' : signed(each.change * 100, oneDigit),
          wholeNumber(each.visits),
          wholeNumber(each.within3),
          wholeNumber(each.within10),
        ]),
      of: sites.length,
    },
  ]
}

export const trackSections: NonNullable<Feature['sections']> = {
  visibility,
  spread,
  happened,
  movers,
  effects,
  voices,
}
