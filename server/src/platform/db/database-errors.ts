/**
 * Codes of PostgreSQL by which it ends a connection or takes none: shut down, restarting, recovering, no free connection, or class 08; and that
 * nothing may be written to it, as long as another server takes its place.
 */
const awayCodes = /^(57P0[1-5]|53300|25006|08...)$/
const netCodes = new Set(['ECONNREFUSED', 'ECONNRESET', 'EPIPE', 'ETIMEDOUT', 'ENOTFOUND', 'EAI_AGAIN'])
/** What node-postgres says of a connection that ended under it; these errors have no code. */
const awayMessages =
  /^(Connection terminated|Client has encountered a connection error|Client was closed|timeout expired|timeout exceeded when trying to connect)/
const fullCodes = new Set(['ENOSPC', 'EDQUOT', '53100'])

/** An error with those it was caused by, nearest first. */
function* chain(error: unknown): Generator<{ code?: unknown; message?: unknown; syscall?: unknown }> {
  for (let at = error, depth = 0; at && typeof at === 'object' && depth < 5; depth++) {
    yield at
    if (at instanceof AggregateError) for (const each of at.errors) if (each && typeof each === 'object') yield each
    at = (at as { cause?: unknown }).cause
  }
}

/** Whether an error of a query says that the database, or this connection to it, is gone: the same may work a moment later. */
export function isDatabaseAway(error: unknown): boolean {
  for (const { code, message, syscall } of chain(error)) {
    if (typeof code === 'string' && (awayCodes.test(code) || (netCodes.has(code) && syscall !== undefined))) return true
    if (typeof message === 'string' && awayMessages.test(message)) return true
  }
  return false
}

/** Whether an error says that a disk has no room left, here or at the database. */
export function isDiskFull(error: unknown): boolean {
  for (const { code } of chain(error)) if (typeof code === 'string' && fullCodes.has(code)) return true
  return false
}
