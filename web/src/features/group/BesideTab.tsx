import { compareGroupings, type Grouping } from '@dew-trail/contract/group'
import { MenuItem, TextField } from '@mui/material'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { Waiting } from '../../api/Waiting.tsx'
import { formatDay, formatWhole, plural } from '../../ui/format.ts'
import { JobLine } from '../../ui/JobLine.tsx'
import { ScreenTitle } from '../../ui/ScreenTitle.tsx'
import { useSite } from '../../ui/site-context.ts'
import { setParam, useAddress } from '../../ui/use-address.ts'
import { GroupBar, methodText } from './GroupBar.tsx'

/** Two groupings side by side: which themes split, which merged, which keywords moved. */
export function BesideTab({ groupings, grouping }: { groupings: readonly Grouping[]; grouping: Grouping }) {
  const [params, change] = useAddress()
  const others = groupings.filter(each => each.id !== grouping.id)
  const beside = others.find(each => each.id === Number(params.get('beside'))) ?? others[0]
  return (
    <main className="screen whole">
      <ScreenTitle title="Group" />
      <div className="main">
        <GroupBar groupings={groupings} grouping={grouping} see="beside" />
        {beside ? (
          <div className="check-lists">
            <TextField
              select
              label="Beside"
              value={beside.id}
              sx={{ width: 420 }}
              onChange={event => change(setParam('beside', event.target.value), true)}
            >
              {others.map(each => (
                <MenuItem key={each.id} value={each.id}>
                  {each.name} · {methodText(each)}, {formatDay(each.createdAt)}
                </MenuItem>
              ))}
            </TextField>
            <Compared grouping={grouping} beside={beside} />
          </div>
        ) : (
          <div className="empty" style={{ flex: 1 }}>
            <h2>There is no other grouping in this market</h2>
            <p>Group anew, with other keywords or fresher results, and see here what moved, split and merged.</p>
          </div>
        )}
        <div className="foot">
          <span>{plural(groupings.length, 'grouping')}</span>
          <div className="foot-end">
            <JobLine />
          </div>
        </div>
      </div>
    </main>
  )
}

function Compared({ grouping, beside }: { grouping: Grouping; beside: Grouping }) {
  const { site } = useSite()
  const { data, error } = useEndpoint(
    compareGroupings,
    { siteId: site.id, groupingId: grouping.id, besideId: beside.id },
    { keep: true },
  )
  if (!data) return <Waiting error={error} />
  if (!data.both)
    return (
      <div className="sentence">
        The two have no keyword in common: {plural(data.onlyHere, 'keyword')} here, {formatWhole(data.onlyThere)} in "
        {beside.name}". Choose another one above.
      </div>
    )
  const parts = (list: ReadonlyArray<{ theme: string; keywords: number }>): string =>
    list.map(each => `${each.theme} (${formatWhole(each.keywords)})`).join(', ')
  return (
    <>
      <div className="sentence">
        Of {plural(data.both, 'keyword')} in both, <b>{formatWhole(data.movedTotal)}</b> stand with others there;{' '}
        <b>{plural(data.same, 'theme')}</b> {data.same === 1 ? 'is' : 'are'} the same, {formatWhole(data.split.length)}{' '}
        split and {formatWhole(data.merged.length)} merged. Agreement {data.agreement.toFixed(2)} (1 = the same).
        {(data.onlyHere > 0 || data.onlyThere > 0) &&
          ` ${plural(data.onlyHere, 'keyword')} only in "${grouping.name}", ${formatWhole(data.onlyThere)} only in "${beside.name}".`}
      </div>
      <section aria-label="Themes that split">
        <h2>Split in "{beside.name}"</h2>
        <PartTable
          head={['Theme here', 'Its keywords stand there in']}
          rows={data.split.map(each => [each.theme, parts(each.into)])}
        />
      </section>
      <section aria-label="Themes that merged">
        <h2>Merged in "{beside.name}"</h2>
        <PartTable
          head={['Theme there', 'From these themes here']}
          rows={data.merged.map(each => [each.theme, parts(each.from)])}
        />
      </section>
      <section aria-label="Keywords that moved">
        <h2>Keywords that moved</h2>
        <PartTable
          head={['Keyword', 'Here', 'There']}
          rows={data.moved.map(each => [each.phrase, each.here ?? 'alone', each.there ?? 'alone'])}
        />
        {data.movedTotal > data.moved.length && (
          <p className="quiet">
            The first {formatWhole(data.moved.length)} of {formatWhole(data.movedTotal)}.
          </p>
        )}
      </section>
    </>
  )
}

function PartTable({ head, rows }: { head: readonly string[]; rows: ReadonlyArray<readonly string[]> }) {
  if (!rows.length) return <p className="quiet">None.</p>
  return (
    <table className="results whole-cells">
      <thead>
        <tr>
          {head.map(each => (
            <th key={each}>{each}</th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map((cells, i) => (
          <tr key={i}>
            {cells.map((cell, at) => (
              <td key={at} style={{ whiteSpace: 'normal' }}>
                {cell}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  )
}
