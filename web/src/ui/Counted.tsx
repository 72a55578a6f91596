import { formatWhole } from './format.ts'

/**
 * A count of searches, or what follows from it. `hidden`: the ads data knows nothing of them or says zero, so the query log is counted, which
 * shows a part of them: "≥ 700".
 */
export const Counted = ({ value, hidden }: { value: number; hidden: boolean }) =>
  hidden ? (
    <span title="At least so many: by your query log, which shows a part of the searches; the ads data knows nothing of them or says zero">
      ≥ {formatWhole(value)}
    </span>
  ) : (
    formatWhole(value)
  )
