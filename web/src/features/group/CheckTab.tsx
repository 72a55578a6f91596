import { checkGrouping, type Grouping } from '@dew-trail/contract/group'
import { MenuItem, TextField } from '@mui/material'
import { useState } from 'react'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { Waiting } from '../../api/Waiting.tsx'
import { ActButton } from '../../ui/ActButton.tsx'
import { formatShare, formatWhole, plural } from '../../ui/format.ts'
import { JobLine } from '../../ui/JobLine.tsx'
import { ScreenTitle } from '../../ui/ScreenTitle.tsx'
import { setParam, useAddress } from '../../ui/use-address.ts'
import { GroupBar } from './GroupBar.tsx'
import { useGrouping } from './use-grouping.ts'
import { useThemeActs } from './use-theme-acts.tsx'

const step = 100

/** What results say of themes that exist: keywords that belong elsewhere, themes that are one page, and how far each holds together. */
export function CheckTab({ groupings, grouping }: { groupings: readonly Grouping[]; grouping: Grouping }) {
  const { one } = useGrouping(grouping)
  const [params, change] = useAddress()
  const wanted = Number(params.get('threshold'))
  const threshold = Number.isInteger(wanted) && wanted >= 1 && wanted <= 9 ? wanted : undefined
  const { data, error } = useEndpoint(
    checkGrouping,
    { ...one, ...(threshold === undefined ? {} : { threshold }) },
    { keep: true },
  )
  const acts = useThemeActs(one)
  const [most, setMost] = useState(step)
  const weak = (data?.themes ?? [])
    .filter(each => each.cohesion !== null)
    .toSorted((a, b) => a.cohesion! - b.cohesion! || b.keywords - a.keywords)
  return (
    <main className="screen whole">
      <ScreenTitle title="Group" />
      <div className="main">
        <GroupBar groupings={groupings} grouping={grouping} see="check" />
        {!data ? (
          <Waiting error={error} />
        ) : (
          <div className="check-lists">
            <div className="sentence">
              {data.misfits.length || data.overlaps.length ? (
                <>
                  <b>{plural(data.misfits.length, 'keyword')}</b> would stand better elsewhere or nowhere, and{' '}
                  <b>{plural(data.overlaps.length, 'pair')}</b> of themes share results.
                </>
              ) : (
                'Every keyword fits its theme, and no two themes share results.'
              )}{' '}
              Agreement with what the program would make of them: <b>{data.agreement.toFixed(2)}</b> (1 = the same, 0 =
              as by chance).
              {data.withoutResults > 0 &&
                ` ${plural(data.withoutResults, 'keyword')} without a result page ${data.withoutResults === 1 ? 'is' : 'are'} left out.`}
            </div>
            <TextField
              select
              label="Two keywords belong together from, of ten"
              value={data.threshold}
              sx={{ width: 270 }}
              onChange={event => change(setParam('threshold', event.target.value), true)}
            >
              {[1, 2, 3, 4, 5, 6, 7, 8, 9].map(each => (
                <MenuItem key={each} value={each}>
                  {plural(each, 'shared page')}
                </MenuItem>
              ))}
            </TextField>
            <section aria-label="Keywords that do not belong">
              <h2>Keywords that do not belong where they are</h2>
              {data.misfits.length ? (
                <table className="results whole-cells">
                  <thead>
                    <tr>
                      <th>Keyword</th>
                      <th>Stands in</th>
                      <th className="n">fits of it</th>
                      <th>Belongs in</th>
                      <th className="n">fits of that</th>
                      <th>
                        <span className="hidden">What to do</span>
                      </th>
                    </tr>
                  </thead>
                  <tbody>
                    {data.misfits.slice(0, most).map(each => (
                      <tr key={each.id}>
                        <td>{each.phrase}</td>
                        <td>{each.theme}</td>
                        <td className="n">{formatShare(each.inside)}</td>
                        <td>{each.better ?? <span className="unknown">no theme here</span>}</td>
                        <td className="n">{each.betterId === null ? '' : formatShare(each.there)}</td>
                        <td>
                          {each.betterId === null ? (
                            <ActButton label={`Let go: ${each.phrase}`} onAct={() => acts.letGo([each.id])}>
                              Let go
                            </ActButton>
                          ) : (
                            <ActButton
                              label={`Move it there: ${each.phrase}`}
                              onAct={() => acts.move([each.id], { id: each.betterId!, name: each.better! })}
                            >
                              Move it there
                            </ActButton>
                          )}
                        </td>
                      </tr>
                    ))}
                  </tbody>
                </table>
              ) : (
                <p className="quiet">None.</p>
              )}
              {data.misfits.length > most && (
                <button type="button" className="link" onClick={() => setMost(most + step)}>
                  {Math.min(step, data.misfits.length - most)} more of {formatWhole(data.misfits.length)}
                </button>
              )}
            </section>
            <section aria-label="Themes that compete">
              <h2>Themes that share results</h2>
              {data.overlaps.length ? (
                <table className="results whole-cells">
                  <thead>
                    <tr>
                      <th>Theme</th>
                      <th>And</th>
                      <th className="n" title="Pairs of a keyword of each that share enough pages">
                        pairs
                      </th>
                      <th className="n">of all</th>
                      <th>Pages both show</th>
                      <th>
                        <span className="hidden">What to do</span>
                      </th>
                    </tr>
                  </thead>
                  <tbody>
                    {data.overlaps.slice(0, most).map(each => (
                      <tr key={`${each.aId} ${each.bId}`}>
                        <td>{each.a}</td>
                        <td>{each.b}</td>
                        <td className="n">
                          {formatWhole(each.pairs)} of {formatWhole(each.of)}
                        </td>
                        <td className="n">{formatShare(each.pairs / each.of)}</td>
                        <td>
                          {each.pages.map(url => (
                            <div key={url} className="cut" style={{ display: 'block', maxWidth: 420 }} title={url}>
                              {url.replace(/^https?:\/\//, '')}
                            </div>
                          ))}
                        </td>
                        <td>
                          <ActButton
                            label={`Merge these: ${each.b} into ${each.a}`}
                            onAct={() => acts.merge([each.bId], { id: each.aId, name: each.a })}
                          >
                            Merge these
                          </ActButton>
                        </td>
                      </tr>
                    ))}
                  </tbody>
                </table>
              ) : (
                <p className="quiet">None.</p>
              )}
            </section>
            <section aria-label="How far themes hold together">
              <h2>How far each theme holds together</h2>
              <table className="results whole-cells" style={{ maxWidth: 640 }}>
                <thead>
                  <tr>
                    <th>Theme</th>
                    <th className="n">keywords</th>
                    <th className="n" title="Share of the pairs of its keywords that share enough pages">
                      pairs that agree
                    </th>
                  </tr>
                </thead>
                <tbody>
                  {weak.slice(0, most).map(each => (
                    <tr key={each.id}>
                      <td>{each.theme}</td>
                      <td className="n">{formatWhole(each.keywords)}</td>
                      <td className="n">{formatShare(each.cohesion!)}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </section>
          </div>
        )}
        <div className="foot">
          <span>
            {plural(data?.misfits.length ?? 0, 'keyword')} and {plural(data?.overlaps.length ?? 0, 'pair')} to look at
          </span>
          <div className="foot-end">
            <JobLine />
          </div>
        </div>
      </div>
    </main>
  )
}
