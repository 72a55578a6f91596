import { formatWhole } from '../../ui/format.ts'

/** Says that a list holds only the first of many rows; nothing where it holds all. */
export function Listed({
  data,
  first,
}: {
  data: { rows: readonly unknown[]; total: number } | undefined
  first: string
}) {
  if (!data || data.total <= data.rows.length) return null
  return (
    <span className="quiet" role="note">
      of {formatWhole(data.total)} in all, the {formatWhole(data.rows.length)} {first} are listed
    </span>
  )
}
