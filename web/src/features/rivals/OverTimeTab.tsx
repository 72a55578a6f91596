import { listNotes } from '@dew-trail/contract/notes'
import { listRivalMonths, type RivalMonth } from '@dew-trail/contract/rivals'
import { MenuItem, TextField } from '@mui/material'
import { lazy } from 'react'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { Waiting } from '../../api/Waiting.tsx'
import { LineNames, lineDashes } from '../../pictures/LineNames.tsx'
import { MonthLines } from '../../pictures/MonthLines.tsx'
import { roundTicks } from '@dew-trail/core/pictures/line-picture'
import { fileColours, SavePicture } from '../../pictures/SavePicture.tsx'
import { notesByDay } from '../../pictures/note-marks.ts'
import { formatDay, formatMonth, formatWhole } from '../../ui/format.ts'
import { useShowDialog } from '../../ui/DialogHost.tsx'
import { JobLine } from '../../ui/JobLine.tsx'
import { ScreenTitle } from '../../ui/ScreenTitle.tsx'
import { useSite } from '../../ui/site-context.ts'
import { setParam, useAddress } from '../../ui/use-address.ts'
import { CompareBar } from './CompareBar.tsx'
import { LoadRankings } from './LoadRankings.tsx'
import { colourOf, type useCompared } from '../../compared/use-compared.ts'

const ChangesDialog = lazy(() => import('./ChangesDialog.tsx'))

const figures = {
  visits: 'Visits a month',
  within10: 'Keywords on first pages',
  within3: 'Keywords within three',
  keywords: 'Keywords within a hundred',
  worth: 'Worth a month',
  paid: 'Keywords paid for',
  spend: 'Spent on advertising',
} as const
type Figure = keyof typeof figures
/** Figures of the ads data, which does not say what came and went. */
const ofAds: ReadonlySet<Figure> = new Set<Figure>(['paid', 'spend'])

/** How the compared sites grew, by month, from the full part of the rankings feed; the table says the same as the picture. */
export function OverTimeTab({ targets, setRivals }: ReturnType<typeof useCompared>) {
  const { site, market } = useSite()
  const [params, change] = useAddress()
  const show = useShowDialog()
  const wanted = params.get('figure') ?? 'visits'
  const figure: Figure = wanted in figures ? (wanted as Figure) : 'visits'
  const { data, error } = useEndpoint(
    listRivalMonths,
    { siteId: site.id, marketId: market.id, targets },
    { keep: true },
  )
  const domains = data?.domains ?? []
  const months = [...new Set(data?.months.map(each => each.month))].sort()
  const { data: known } = useEndpoint(listNotes, { siteId: site.id })
  const since = (known ?? []).filter(note => months.length > 0 && note.day >= months[0]! && note.day <= months.at(-1)!)
  const of = (domain: string, month: string): RivalMonth | undefined =>
    data?.months.find(each => each.domain === domain && each.month === month)
  const series = domains.map((domain, i) => ({
    domain,
    name: i ? domain : 'you',
    colour: colourOf(i),
    dash: i ? lineDashes[i % lineDashes.length]! : '',
    values: months.map(month => of(domain, month)?.[figure] ?? null),
  }))
  return (
    <main className="screen whole">
      <ScreenTitle title="Rivals" />
      <div className="main">
        <CompareBar
          targets={targets}
          see="time"
          coverage={
            months.length
              ? 'By the full part of the rankings feed alone, the first of each month, advertising by the ads data; Profiles add what was fetched'
              : ''
          }
          setRivals={setRivals}
        />
        {!data && <Waiting error={error} />}
        {data && !months.length && (
          <div className="empty">
            <h2>No month is known yet</h2>
            <p>
              The rankings feed tells for which keywords each site stood on the first of a month, back to two years. A
              year of it is one request a site and month, more for large sites.
            </p>
            <LoadRankings targets={targets} months={12}>
              Load twelve months
            </LoadRankings>
          </div>
        )}
        {months.length > 0 && (
          <div style={{ overflow: 'auto', padding: '12px 16px', minHeight: 0, flex: 1 }}>
            <div style={{ display: 'flex', gap: 18, alignItems: 'center', marginBottom: 8 }}>
              <TextField
                select
                value={figure}
                sx={{ minWidth: 220 }}
                onChange={event => change(setParam('figure', event.target.value))}
                slotProps={{ htmlInput: { 'aria-label': 'Figure' } }}
              >
                {Object.entries(figures).map(([key, label]) => (
                  <MenuItem key={key} value={key}>
                    {label}
                  </MenuItem>
                ))}
              </TextField>
              <LoadRankings targets={targets} months={24}>
                Load two years
              </LoadRankings>
              <span>
                <LineNames series={series} />
              </span>
            </div>
            <MonthLines
              label={`${figures[figure]} by month; the table below says the same`}
              months={months}
              series={series}
              notes={notesByDay(since, months)}
            />
            <SavePicture
              name={`${site.domain}-rivals-${figure}`}
              picture={() => ({
                title: figures[figure],
                labels: months.map(month => formatMonth(month.slice(0, 7))),
                lines: series.map(({ domain, dash, values }, i) => ({
                  name: domain,
                  colour: fileColours[i % fileColours.length]!,
                  dash,
                  values,
                })),
                ticks: roundTicks(Math.max(...series.flatMap(({ values }) => values.map(value => value ?? 0)))),
              })}
            />
            {since.length > 0 && (
              <ul className="month-notes" aria-label="Notes in these months">
                {since.map(note => (
                  <li key={note.id}>
                    {formatDay(note.day)}: {note.text}
                  </li>
                ))}
              </ul>
            )}
            <table className="results whole-cells" style={{ width: 'auto', marginTop: 12 }}>
              <thead>
                <tr>
                  <th>{figures[figure]}</th>
                  {months.map(month => (
                    <th key={month} className="n" scope="col">
                      {formatMonth(month.slice(0, 7))}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {series.map(({ domain, name, values }) => (
                  <tr key={name}>
                    <th scope="row">{name}</th>
                    {values.map((value, i) => (
                      <td key={months[i]} className="n">
                        {value === null ? (
                          <span className="unknown">unknown</span>
                        ) : i > 0 && values[i - 1] !== null && !ofAds.has(figure) ? (
                          <button
                            type="button"
                            className="link"
                            title={`What came and went for ${domain} since ${formatMonth(months[i - 1]!.slice(0, 7))}`}
                            onClick={() =>
                              show(close => (
                                <ChangesDialog
                                  target={domain}
                                  before={months[i - 1]!.slice(0, 7)}
                                  month={months[i]!.slice(0, 7)}
                                  onClose={close}
                                />
                              ))
                            }
                          >
                            {formatWhole(value)}
                          </button>
                        ) : (
                          formatWhole(value)
                        )}
                      </td>
                    ))}
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        )}
        <div className="foot">
          <div className="foot-end">
            <JobLine />
          </div>
        </div>
      </div>
    </main>
  )
}
