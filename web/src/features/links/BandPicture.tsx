import { bandEnds } from '@dew-trail/contract/link-profile'
import type { LinkFigures } from '@dew-trail/contract/link-lists'
import { colourOf } from '../../compared/use-compared.ts'
import { formatWhole } from '../../ui/format.ts'

/** Linking sites by their standing, in bands of twenty, with their mean trust: weight without trust is what to look at. */
export function BandPicture({ figures }: { figures: readonly LinkFigures[] }) {
  const known = figures.filter(each => each.bands !== null && each.known)
  return (
    <section aria-label="Linking sites by standing">
      <h2 style={{ margin: '0 0 8px' }}>Linking sites by their standing</h2>
      {known.length ? (
        <table className="results whole-cells">
          <thead>
            <tr>
              <th>Site</th>
              {bandEnds.map((end, i) => (
                <th key={end} className="n">
                  {i ? bandEnds[i - 1] : 0}–{end}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {known.map(each => {
              const most = Math.max(1, ...each.bands!.map(band => band.sites))
              return (
                <tr key={each.target}>
                  <th
                    scope="row"
                    style={{ borderLeft: `3px solid ${colourOf(figures.indexOf(each))}`, paddingLeft: 8, width: 180 }}
                  >
                    {each.target}
                  </th>
                  {each.bands!.map((band, i) => (
                    <td
                      key={bandEnds[i]}
                      className="n"
                      title={band.trust === null ? 'trust unknown' : `mean trust ${Math.round(band.trust)}`}
                      style={{ verticalAlign: 'bottom' }}
                    >
                      <span
                        aria-hidden="true"
                        style={{
                          display: 'block',
                          marginLeft: 'auto',
                          width: 34,
                          height: `${Math.round((band.sites / most) * 30)}px`,
                          background: 'var(--mui-palette-dew-scale2)',
                        }}
                      />
                      {formatWhole(band.sites)}
                      {band.trust !== null && <small className="quiet"> trust {Math.round(band.trust)}</small>}
                    </td>
                  ))}
                </tr>
              )
            })}
          </tbody>
        </table>
      ) : (
        <p className="quiet">Standing was not computed since these links came in: Ranking computes it.</p>
      )}
    </section>
  )
}
