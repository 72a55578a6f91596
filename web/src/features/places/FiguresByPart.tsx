import type { RankFigures, RankSums } from '@dew-trail/core/places/rank-figures'
import { metresText } from '@dew-trail/core/places/rank-sentence'
import { formatOne, formatShare } from '../../ui/format.ts'

/** Positions by distance and by direction from the business. */
export function FiguresByPart({ figures }: { figures: RankFigures }) {
  return (
    <>
      <Parts
        title="By distance"
        rows={figures.rings.map(ring => [
          ring.from ? `${metresText(ring.from)} to ${metresText(ring.to)}` : `up to ${metresText(ring.to)}`,
          ring,
        ])}
      />
      <Parts title="By direction" rows={figures.sectors.map(sector => [sector.direction, sector])} />
    </>
  )
}

function Parts({ title, rows }: { title: string; rows: Array<[string, RankSums]> }) {
  return (
    <table className="results whole-cells">
      <thead>
        <tr>
          <th>{title}</th>
          <th className="n">points</th>
          <th className="n">mean</th>
          <th className="n">within 3</th>
        </tr>
      </thead>
      <tbody>
        {rows.map(([name, sums]) => (
          <tr key={name}>
            <td>{name}</td>
            <td className="n">{sums.checked}</td>
            <td className="n">{formatOne(sums.mean!)}</td>
            <td className="n">{formatShare(sums.first3 / sums.checked)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}
