import type { PlaceGrid } from '@dew-trail/contract/places'
import { distanceMetres, type GridPoint } from '@dew-trail/core/places/grid-points'
import { metresText } from '@dew-trail/core/places/rank-sentence'
import { ActButton } from '../../ui/ActButton.tsx'
import { formatOne, formatWhole } from '../../ui/format.ts'
import { setParam, useAddress } from '../../ui/use-address.ts'
import { pointWords, type Results } from './use-place.ts'

type Props = {
  grid: PlaceGrid
  results: Results
  at: number
  point: GridPoint
  leftOut: boolean
  onLeaveOut?(): Promise<void>
  onClose?(): void
}
/** The whole list at a point, with how far away each is; own ones and rivals are marked, and each can be looked at over the town. */
export function PointList({ grid, results, at, point, leftOut, onLeaveOut, onClose }: Props) {
  const [, change] = useAddress()
  const listed = results.points[at]
  const byNumber = new Map(results.businesses.map(each => [each.number, each]))
  return (
    <section aria-label="At this point" style={{ display: 'grid', gap: 6 }}>
      <h2 style={{ margin: 0, fontSize: 13, display: 'flex', gap: 12, alignItems: 'baseline' }}>
        {pointWords(grid, at)}
        {onClose && (
          <button type="button" className="link" style={{ marginLeft: 'auto' }} onClick={onClose}>
            Close
          </button>
        )}
      </h2>
      <p className="quiet" style={{ margin: 0 }}>
        {point.latitude.toFixed(5)}, {point.longitude.toFixed(5)}{' '}
        {onLeaveOut && (
          <ActButton title="Counts from the next run on; key O on the point" onAct={onLeaveOut}>
            {leftOut ? 'Ask here again' : 'Leave out from now on'}
          </ActButton>
        )}
      </p>
      {!listed ? (
        <p>{results.leftOut.includes(at) ? 'It was left out of this run.' : 'It was not checked in this run.'}</p>
      ) : !listed.length ? (
        <p>Nobody is listed here for “{results.keyword}”.</p>
      ) : (
        <table className="results whole-cells">
          <thead>
            <tr>
              <th className="n">#</th>
              <th>Business</th>
              <th className="n">away</th>
              <th className="n">rating</th>
            </tr>
          </thead>
          <tbody>
            {listed.map((number, i) => {
              const business = byNumber.get(number)!
              return (
                <tr key={number} className={business.own ? 'own-result' : ''}>
                  <td className="n">{i + 1}</td>
                  <td style={{ whiteSpace: 'normal' }}>
                    <button
                      type="button"
                      className="plain-link"
                      title={`${business.category}${business.street ? `, ${business.street}` : ''}. Shows its positions over the town`}
                      onClick={() => change(setParam('of', String(number)), true)}
                    >
                      {business.name}
                    </button>
                    {(business.own || business.rival) && (
                      <small className={business.own ? 'own' : 'quiet'}> {business.own ? 'yours' : 'rival'}</small>
                    )}
                  </td>
                  <td className="n">{metresText(distanceMetres(business, point))}</td>
                  <td
                    className="n"
                    title={business.reviews === null ? 'reviews unknown' : `${formatWhole(business.reviews)} reviews`}
                  >
                    {business.rating === null ? <span className="unknown">unknown</span> : formatOne(business.rating)}
                  </td>
                </tr>
              )
            })}
          </tbody>
        </table>
      )}
    </section>
  )
}
