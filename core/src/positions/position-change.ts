export type PositionChange =
  | { kind: 'unknown' }
  | { kind: 'same' | 'up' | 'down'; positions: number; from: number; to: number }
  | { kind: 'new'; to: number; outside: number }
  | { kind: 'out'; from: number; outside: number }
  | { kind: 'absent'; outside: number }

/**
 * What happened between two day-vector values. Unknown when either day was not checked. "new": found now, not within the checked
 * depth before; "out" the reverse; "absent": not found on both days. `outside` is the depth that was checked.
 */
export function positionChange(before: number, now: number): PositionChange {
  if (before === 0 || now === 0) return { kind: 'unknown' }
  if (before < 0 && now < 0) return { kind: 'absent', outside: -now }
  if (before < 0) return { kind: 'new', to: now, outside: -before }
  if (now < 0) return { kind: 'out', from: before, outside: -now }
  const positions = Math.abs(before - now)
  return { kind: now < before ? 'up' : now > before ? 'down' : 'same', positions, from: before, to: now }
}

/**
 * Positions gained (above 0) or lost (below 0) by a change. One that came from or fell out of what was looked at moved by at least so
 * much; `null` where nothing was found before and now, or one of them is unknown.
 */
export function positionsGained(change: PositionChange): number | null {
  switch (change.kind) {
    case 'up':
      return change.positions
    case 'down':
      return -change.positions
    case 'same':
      return 0
    case 'new':
      return change.outside + 1 - change.to
    case 'out':
      return change.from - change.outside - 1
    default:
      return null
  }
}
