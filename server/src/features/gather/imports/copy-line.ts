/** A line of PostgreSQL's COPY text format. */
export const copyLine = (fields: ReadonlyArray<string | number | null>): string =>
  `${fields.map(copyField).join('\t')}\n`

export function copyField(value: string | number | null): string {
  if (value === null) return '\\N'
  if (typeof value === 'number') return String(value)
  if (!/[\\\t\n\r\0]/.test(value)) return value
  return value.replace(/[\\\t\n\r\0]/g, char =>
    char === '\\' ? '\\\\' : char === '\t' ? '\\t' : char === '\n' ? '\\n' : char === '\r' ? '\\r' : '',
  )
}
