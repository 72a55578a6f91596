import {
  changeGrouping,
  type Grouping,
  type GroupMethod,
  type readGrouping,
  type ThemeRow,
} from '@dew-trail/contract/group'
import { Link } from 'react-router'
import type { z } from 'zod'
import { call } from '../../api/call.ts'
import { ActButton } from '../../ui/ActButton.tsx'
import { formatDay, formatShare, formatWhole, plural } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { setParam, useAddress } from '../../ui/use-address.ts'
import { PreviewPicture } from './PreviewPicture.tsx'
import type { Choice } from './use-grouping.ts'
import type { ThemeActs } from './use-theme-acts.tsx'

export const methodWords: Record<GroupMethod, string> = { lead: 'Around a lead', pairs: 'Every pair agrees' }

type Props = {
  grouping: Grouping
  about: z.output<(typeof readGrouping)['output']>
  rows: readonly ThemeRow[] | undefined
  choice: Choice | null
  threshold: number
  method: GroupMethod
  acts: ThemeActs
}
/** How many themes there are, what other thresholds would make of the keywords, and what to make of that. */
export function GroupHead({ grouping, about, rows, choice, threshold, method, acts }: Props) {
  const { site, market } = useSite()
  const [, change] = useAddress()
  const grouped = rows?.reduce((sum, row) => sum + row.keywords, 0) ?? grouping.grouped
  const searched = rows ? rows.reduce((sum, row) => sum + (row.searches ?? 0), 0) : about.searchesGrouped
  const alone = Math.max(0, grouping.keywords - grouped)
  const at = (see: string, ...where: string[]) => {
    const params = new URLSearchParams({ market: String(market.id), grouping: String(grouping.id), see })
    for (const each of where) params.append('where', each)
    return `/${site.id}/group?${params}`
  }
  const look = (next: Partial<Choice>) =>
    change(params => {
      const chosen = { threshold, method, ...next }
      const kept =
        grouping.basis === 'results' && chosen.threshold === grouping.threshold && chosen.method === grouping.method
      setParam('threshold', kept ? null : String(chosen.threshold))(params)
      setParam('method', kept ? null : chosen.method)(params)
      params.delete('open')
    })
  const here = about.previews.filter(each => each.method === method)
  const isByResults = grouping.basis === 'results' || choice !== null
  return (
    <section className="group-head" aria-label="Summary">
      <div>
        <div className="headline">{formatWhole(rows?.length ?? grouping.themes)}</div>
        <div className="quiet">
          {(rows?.length ?? grouping.themes) === 1 ? 'theme' : 'themes'} of {plural(grouped, 'keyword')}
        </div>
        <div style={{ marginTop: 6, lineHeight: '19px' }}>
          <Link className="link" to={at('keywords', 'state:is:alone|unknown')}>
            <b>{formatWhole(alone)}</b>&nbsp;in no theme
          </Link>
          {about.withoutResults > 0 && grouping.basis !== 'words' && (
            <>
              ,{' '}
              <Link
                className="link"
                to={at('keywords', 'state:is:unknown')}
                title="No result page could be fetched of them, so nothing can be said"
              >
                <b>{formatWhole(about.withoutResults)}</b> without a result page
              </Link>
            </>
          )}
          <br />
          {about.searches === null || searched === null ? (
            <span className="unknown">searches unknown</span>
          ) : (
            <>
              <b>{about.searches > 0 ? formatShare(Math.min(1, searched / about.searches)) : '–'}</b> of{' '}
              {formatWhole(about.searches)} searches are in a theme
            </>
          )}
        </div>
        {about.oldest && (
          <div className="quiet" style={{ fontSize: 12, marginTop: 4 }}>
            results of {formatDay(about.oldest)}
            {about.newest && about.newest !== about.oldest ? ` to ${formatDay(about.newest)}` : ''}
          </div>
        )}
      </div>
      <div style={{ minWidth: 0 }}>
        <div style={{ display: 'flex', gap: 6, alignItems: 'center', flexWrap: 'wrap' }}>
          <b style={{ fontSize: 12, marginRight: 8 }} title="Of ten results, so many must be the same pages">
            Shared pages of ten
          </b>
          {(Object.keys(methodWords) as GroupMethod[]).map(each => (
            <button
              key={each}
              type="button"
              className="choice"
              aria-pressed={isByResults && method === each}
              onClick={() => look({ method: each })}
            >
              {methodWords[each]}
            </button>
          ))}
        </div>
        <PreviewPicture
          previews={about.previews}
          threshold={isByResults ? threshold : 0}
          method={method}
          kept={grouping.basis === 'results' && method === grouping.method ? grouping.threshold : null}
          onChoose={next => look({ threshold: next })}
          onMethod={() => look({ method: method === 'lead' ? 'pairs' : 'lead' })}
        />
        <div
          className="quiet"
          style={{ fontSize: 12 }}
          title="As the program alone would make them, before what was done by hand"
        >
          bars: themes; dashed: share of the searches that stays alone
        </div>
      </div>
      <table className="results whole-cells preview-table" aria-label="What each threshold makes">
        <thead>
          <tr>
            <th className="n">shared</th>
            <th className="n">themes</th>
            <th className="n">keywords</th>
            <th className="n">searches</th>
            <th className="n">largest</th>
            <th
              className="n"
              title="How far one page less and one more make the same of it: 1 = the same, 0 = as by chance (the lower of both adjusted Rand indices)"
            >
              steady
            </th>
          </tr>
        </thead>
        <tbody>
          {here.map(each => (
            <tr key={each.threshold} aria-current={isByResults && each.threshold === threshold ? 'true' : undefined}>
              <td className="n">
                <button
                  type="button"
                  className="link"
                  disabled={!each.possible}
                  aria-label={`Look at ${plural(each.threshold, 'shared page')}`}
                  onClick={() => look({ threshold: each.threshold })}
                >
                  {each.threshold}
                </button>
              </td>
              {each.possible ? (
                <>
                  <td className="n">{formatWhole(each.themes)}</td>
                  <td className="n">{formatWhole(each.grouped)}</td>
                  <td className="n">
                    {each.searches === null ? <span className="unknown">unknown</span> : formatShare(each.searches)}
                  </td>
                  <td className="n">{formatWhole(each.largest)}</td>
                  <td className="n">{each.steadiness === null ? '' : each.steadiness.toFixed(2)}</td>
                </>
              ) : (
                <td colSpan={5} className="unknown">
                  more than any keyword has results
                </td>
              )}
            </tr>
          ))}
        </tbody>
      </table>
      <div style={{ minWidth: 0 }}>
        {choice ? (
          <div className="sentence" role="status">
            You look at{' '}
            <b>
              {methodWords[choice.method].toLowerCase()}, {plural(choice.threshold, 'shared page')}
            </b>
            . Nothing is changed yet.{' '}
            <ActButton
              onAct={async () => {
                await acts.choose(choice)
                change(params => {
                  for (const name of ['threshold', 'method']) params.delete(name)
                })
              }}
            >
              Keep these themes
            </ActButton>{' '}
            <button
              type="button"
              className="link"
              onClick={() =>
                change(params => {
                  for (const name of ['threshold', 'method', 'open']) params.delete(name)
                })
              }
            >
              Back to what is kept
            </button>
          </div>
        ) : (
          <div className="sentence">{adviceText(about, grouping, method)}</div>
        )}
        {about.competing > 0 && (
          <p style={{ margin: '8px 0 0' }}>
            <Link className="link own" to={at('competing')}>
              {about.competing === 1 ? 'One pair' : `${about.competing} pairs`} of your pages compete
            </Link>{' '}
            for one theme.
          </p>
        )}
        {about.common.length > 0 && (
          <p style={{ margin: '8px 0 0' }}>
            {about.common
              .map(each => `a page of ${each.domain} shows for ${formatShare(each.share)} of the keywords`)
              .join(', ')}
            , so that it parts nothing.{' '}
            <ActButton
              onAct={async () => {
                const leftOut = [...new Set([...grouping.leftOut, ...about.common.map(each => each.domain)])]
                const { actId } = await call(changeGrouping, { siteId: site.id, groupingId: grouping.id, leftOut })
                return { say: 'Left out. Choose a threshold to group without them.', actId }
              }}
            >
              Leave such pages out
            </ActButton>
          </p>
        )}
        {grouping.leftOut.length > 0 && (
          <p style={{ margin: '8px 0 0' }}>
            Pages of {grouping.leftOut.join(', ')} do not count.{' '}
            <ActButton
              onAct={async () => {
                const { actId } = await call(changeGrouping, { siteId: site.id, groupingId: grouping.id, leftOut: [] })
                return { say: 'All pages count again', actId }
              }}
            >
              Count them again
            </ActButton>
          </p>
        )}
      </div>
    </section>
  )
}

/** What lower and higher thresholds mean for these keywords, and which is proposed. */
function adviceText(about: Props['about'], grouping: Grouping, method: GroupMethod): string {
  const proposed = about.proposed[method]
  const meaning =
    'Lower joins more on one page, as magazines and blogs want it (around a lead, 3 or 4); higher keeps products apart, as large shops need it; every pair agrees where each keyword was promised a place.'
  if (proposed === null) return 'No two of these keywords share a result, so each would be a page of its own.'
  const of = about.previews.find(each => each.method === method && each.threshold === proposed)!
  const kept =
    of.searches === null ? `${formatWhole(of.grouped)} keywords` : `${formatShare(of.searches)} of the searches`
  const steady =
    of.steadiness === null
      ? ''
      : ` and the themes change least with one page less or more (${of.steadiness.toFixed(2)})`
  const is = grouping.basis === 'results' && grouping.method === method && grouping.threshold === proposed
  return `${proposed} is proposed${is ? ' and kept' : ''}: ${kept} stay in a theme${steady}. ${meaning}`.replace(
    '  ',
    ' ',
  )
}
