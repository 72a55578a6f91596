import { formatWhole } from '../ui/format.ts'

/**
 * Says that a list holds only the first of many rows; nothing where it holds all. `met`: how many of all meet the conditions, where these
 * were asked of all; `coming`: the rest is under way.
 */
export function Listed({
  data,
  first,
  coming = false,
}: {
  data: { rows: readonly unknown[]; total: number; met?: number } | undefined
  first: string
  coming?: boolean
}) {
  const met = data?.met ?? data?.total ?? 0
  if (!data || met <= data.rows.length) return null
  const all = met < data.total ? `${formatWhole(met)} that meet the conditions` : `${formatWhole(met)} in all`
  return (
    <span className="quiet" role="note">
      of {all}, the {formatWhole(data.rows.length)} {first} are {coming ? 'here, the others are coming' : 'listed'}
    </span>
  )
}
