import { chooseFirst, listOutcomes } from '@dew-trail/contract/brief'
import { changePage, type PlannedPage } from '@dew-trail/contract/plan'
import { MenuItem, TextField } from '@mui/material'
import { useEffect, useState } from 'react'
import type { z } from 'zod'
import { call } from '../../api/call.ts'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { Waiting } from '../../api/Waiting.tsx'
import { ActButton } from '../../ui/ActButton.tsx'
import {
  formatDay,
  formatMoney,
  formatMonth,
  formatOne,
  formatShare,
  formatWhole,
  plural,
  today,
} from '../../ui/format.ts'
import { JobLine } from '../../ui/JobLine.tsx'
import { ScreenTitle } from '../../ui/ScreenTitle.tsx'
import { useSite } from '../../ui/site-context.ts'
import { setParam, useAddress } from '../../ui/use-address.ts'
import { Outcomes } from './Outcomes.tsx'
import { OutlookPicture } from './OutlookPicture.tsx'
import { PlanBar } from './PlanBar.tsx'
import { kindLabels, monthNames } from './plan-words.ts'
import { usePlan } from './use-plan.ts'

type Choice = z.output<(typeof chooseFirst)['output']>
const number = (text: string | null, low: number, high: number, fallback: number): number => {
  const value = Number(text)
  return text && Number.isFinite(value) && value >= low && value <= high ? value : fallback
}

/** What to make first for what can be made a month, what just missed, what one more would bring, and visits over the next year. */
export function FirstTab() {
  const { site, market } = useSite()
  const [params, change] = useAddress()
  const of = params.get('of') === 'days' ? 'days' : 'pages'
  const aMonth = number(params.get('amount'), 0.5, 500, of === 'days' ? 10 : 3)
  const months = Math.round(number(params.get('months'), 1, 12, 3))
  const ask = { siteId: site.id, marketId: market.id, today: today(), of, aMonth, months } as const
  const { data, error } = useEndpoint(chooseFirst, ask, { keep: true })
  const { byId } = usePlan()
  const [typed, setTyped] = useState(String(aMonth))
  useEffect(() => setTyped(String(aMonth)), [aMonth])
  return (
    <main className="screen whole">
      <ScreenTitle title="Plan" />
      <div className="main">
        <PlanBar see="first">
          <span>For</span>
          <TextField
            type="number"
            value={typed}
            sx={{ width: 84 }}
            onChange={event => setTyped(event.target.value)}
            onBlur={() => change(setParam('amount', typed))}
            onKeyDown={event => event.key === 'Enter' && change(setParam('amount', typed))}
            slotProps={{
              htmlInput: {
                'aria-label': 'How much a month',
                min: of === 'days' ? 0.5 : 1,
                step: of === 'days' ? 0.5 : 1,
              },
            }}
          />
          <TextField
            select
            value={of}
            onChange={event =>
              change(all => {
                setParam('of', event.target.value === 'days' ? 'days' : null)(all)
                all.delete('amount')
              })
            }
            slotProps={{ htmlInput: { 'aria-label': 'Pages or days' } }}
          >
            <MenuItem value="pages">pages a month</MenuItem>
            <MenuItem value="days">days of work a month</MenuItem>
          </TextField>
          <span>over</span>
          <TextField
            select
            value={months}
            onChange={event => change(setParam('months', event.target.value))}
            slotProps={{ htmlInput: { 'aria-label': 'Months' } }}
          >
            {Array.from({ length: 12 }, (_, i) => (
              <MenuItem key={i + 1} value={i + 1}>
                {plural(i + 1, 'month')}
              </MenuItem>
            ))}
          </TextField>
        </PlanBar>
        {data ? <Chosen choice={data} byId={byId} of={of} /> : <Waiting error={error} />}
        <div className="foot">
          <div className="foot-end">
            <JobLine />
          </div>
        </div>
      </div>
    </main>
  )
}

function Chosen({
  choice,
  byId,
  of,
}: {
  choice: Choice
  byId: ReadonlyMap<number, PlannedPage>
  of: 'pages' | 'days'
}) {
  const { site, market } = useSite()
  const { data: outcomes } = useEndpoint(listOutcomes, { siteId: site.id, marketId: market.id, today: today() })
  const [, change] = useAddress()
  const brings = (value: number): string =>
    choice.unit === 'visits' ? `${formatWhole(value)} visits` : value >= 100 ? formatWhole(value) : formatMoney(value)
  const open = (pageId: number) =>
    change(params => {
      for (const name of ['see', 'of', 'amount', 'months']) params.delete(name)
      setParam('page', String(pageId))(params)
    }, true)
  const months = [...new Set(choice.chosen.map(each => each.month))]
  const late = choice.chosen.filter(each => each.inTime === false).length
  if (!choice.chosen.length && !outcomes?.length)
    return (
      <div className="empty" style={{ flex: 1 }}>
        <h2>Nothing can be put first yet</h2>
        <p>
          {choice.left.length
            ? `Of ${plural(choice.left.length, 'page')} what they would gain is not known: ${choice.left[0]!.why.toLowerCase()}.`
            : 'No page on the plan is waiting to be made or reworked. Plan some on the site map, or from Weigh.'}
        </p>
      </div>
    )
  return (
    <div className="first">
      <section className="first-head" aria-label="Summary">
        <div>
          <div className="headline">{brings(choice.total)}</div>
          <p>
            {choice.unit === 'money' ? 'is what the visits are worth that' : 'is what'}{' '}
            {plural(choice.chosen.length, 'page')} bring until the end of {formatMonth(choice.until)}, counted from{' '}
            {choice.settle} days after each is out
            {choice.settleFrom > 0 ? `, as ${formatWhole(choice.settleFrom)} of your pages took on the median.` : '.'}
            {choice.bySearches > 0 && choice.total > choice.bySearches * 1.005 && (
              <>
                {' '}
                That is {formatShare(choice.total / choice.bySearches - 1)} more than the most searched first would
                bring.
              </>
            )}{' '}
            Of a new page’s estimate half counts, and half the mean of all new pages: among many the highest are high by
            error, too.
          </p>
          <p className="quiet">
            {choice.below < 0.0005
              ? 'No other choice brings more.'
              : `No other choice brings more than ${formatOne(choice.below * 100)}% more.`}{' '}
            One {of === 'pages' ? 'page' : 'day'} more a month would add{' '}
            {choice.oneMore < 0.005 ? 'nothing' : brings(choice.oneMore)}.
            {late > 0 &&
              ` ${plural(late, 'page')} will not have settled before the peak of ${late === 1 ? 'its' : 'their'} season.`}
          </p>
        </div>
        <OutlookPicture outlook={choice.outlook} />
      </section>
      {choice.unfit.length > 0 && (
        <p className="fall" role="alert">
          {plural(choice.unfit.length, 'page')} must be in and {choice.unfit.length === 1 ? 'does' : 'do'} not fit:{' '}
          {choice.unfit.map(each => each.title).join(', ')}.
        </p>
      )}
      <table className="results whole-cells">
        <thead>
          <tr>
            <th>Page</th>
            <th>Work</th>
            <th className="n">days</th>
            <th className="n">visits/mo more</th>
            <th className="n">{choice.unit === 'money' ? 'worth a month' : 'visits a month'}</th>
            <th
              className="n"
              title="From when it is settled. Of a new page half its own estimate and half the mean of all new pages count, more where the site gets on the first page of similar keywords easily: of many estimates the highest are high by error, too"
            >
              until {formatMonth(choice.until)}
            </th>
            <th>Season</th>
            <th>
              <span className="hidden">Change</span>
            </th>
          </tr>
        </thead>
        {months.map(month => (
          <tbody key={month}>
            <tr>
              <th colSpan={8} className="first-month" scope="rowgroup">
                {formatMonth(month)}
              </th>
            </tr>
            {choice.chosen
              .filter(each => each.month === month)
              .map(each => (
                <tr key={each.pageId}>
                  <td>
                    <button
                      type="button"
                      className="link cell-cut"
                      style={{ maxWidth: 360 }}
                      title={each.title}
                      onClick={() => open(each.pageId)}
                    >
                      {each.title}
                    </button>
                    {each.mustBeIn && <small className="quiet"> must be in</small>}
                  </td>
                  <td className="quiet">{kindLabels[each.kind as keyof typeof kindLabels]}</td>
                  <td className="n">{formatOne(each.effort)}</td>
                  <td className="n">{formatWhole(each.gain)}</td>
                  <td className="n">{choice.unit === 'money' ? formatMoney(each.worth) : formatWhole(each.worth)}</td>
                  <td className="n">{brings(each.value)}</td>
                  <td>
                    {each.peak !== null && each.outBy !== null && (
                      <span className={each.inTime ? 'quiet' : 'fall'}>
                        peak {monthNames[each.peak]},{' '}
                        {each.inTime ? 'in time' : `should be out by ${formatDay(each.outBy)}`}
                      </span>
                    )}
                  </td>
                  <td className="n">
                    <SetDeadline page={byId.get(each.pageId)} month={each.month} />
                  </td>
                </tr>
              ))}
          </tbody>
        ))}
      </table>
      {choice.missed.length > 0 && (
        <>
          <h2>Just missed</h2>
          <ul className="plain-list wide">
            {choice.missed.map(each => (
              <li key={each.pageId}>
                <span />
                <span>
                  <button type="button" className="link" onClick={() => open(each.pageId)}>
                    {each.title}
                  </button>{' '}
                  <span className="quiet">
                    {each.costs < 0.005 ? 'would do as well' : `putting it in would cost ${brings(each.costs)}`}
                  </span>
                </span>
                <MustBeIn page={byId.get(each.pageId)} />
              </li>
            ))}
          </ul>
        </>
      )}
      {choice.left.length > 0 && (
        <>
          <h2>Not compared</h2>
          <ul className="plain-list wide">
            {choice.left.slice(0, 50).map(each => (
              <li key={each.pageId}>
                <span />
                <span>
                  <button type="button" className="link" onClick={() => open(each.pageId)}>
                    {each.title}
                  </button>{' '}
                  <span className="quiet">{each.why}</span>
                </span>
                <span />
              </li>
            ))}
          </ul>
        </>
      )}
      {outcomes && outcomes.length > 0 && <Outcomes rows={outcomes} onOpen={open} />}
    </div>
  )
}

/** Takes the month in which a page should be made as its deadline: its last day. */
function SetDeadline({ page, month }: { page: PlannedPage | undefined; month: string }) {
  const { site } = useSite()
  if (!page) return null
  const [year, number] = month.split('-').map(Number)
  const deadline = new Date(Date.UTC(year!, number!, 0)).toISOString().slice(0, 10)
  if (page.deadline === deadline) return <span className="quiet">due {formatDay(deadline)}</span>
  return (
    <ActButton
      label={`Make it due ${formatDay(deadline)}: ${page.title}`}
      onAct={async () => {
        const { actId } = await call(changePage, { siteId: site.id, pageId: page.id, version: page.version, deadline })
        return { say: `"${page.title}" is due ${formatDay(deadline)}`, actId }
      }}
    >
      Make it due {formatDay(deadline)}
    </ActButton>
  )
}

function MustBeIn({ page }: { page: PlannedPage | undefined }) {
  const { site } = useSite()
  if (!page) return null
  return (
    <ActButton
      label={`It must be in: ${page.title}`}
      onAct={async () => {
        const { actId } = await call(changePage, {
          siteId: site.id,
          pageId: page.id,
          version: page.version,
          mustBeIn: true,
        })
        return { say: `"${page.title}" must be in`, actId }
      }}
    >
      It must be in
    </ActButton>
  )
}
