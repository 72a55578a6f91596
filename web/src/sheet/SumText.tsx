import type { ColumnSum } from '@dew-trail/core/tables/sum-rows'
import { formatWhole } from '../ui/format.ts'

type Props = { sum: ColumnSum; of: string; about?: boolean }

/** A sum in the foot of a table, `of` being what it is of: "about 1,200 visits/mo, 3 unknown". Of nothing but unknown figures it is unknown, not zero. */
export function SumText({ sum, of, about = false }: Props) {
  if (sum.unknown && !sum.known)
    return (
      <>
        <span className="unknown">unknown</span> {of}
      </>
    )
  return (
    <>
      {about && 'about '}
      <b>{formatWhole(sum.sum)}</b> {of}
      {sum.unknown ? (
        <span className="unknown" title="They are not in the sum">
          , {formatWhole(sum.unknown)} unknown
        </span>
      ) : null}
    </>
  )
}
