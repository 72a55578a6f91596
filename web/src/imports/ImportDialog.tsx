import { importFields, type ImportKind, runImport, type Uploaded, uploadPath } from '@dew-trail/contract/imports'
import {
  Button,
  Checkbox,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  FormControlLabel,
  MenuItem,
  Select,
  TextField,
} from '@mui/material'
import { type DragEvent, useRef, useState } from 'react'
import { call, send } from '../api/call.ts'
import { formatMarket, plural } from '../ui/format.ts'
import { useSite } from '../ui/site-context.ts'
import { useActing } from '../ui/use-act.ts'

const titles: Record<ImportKind, string> = {
  keywords: 'Import keywords',
  positions: 'Import positions',
  log: 'Import a query log',
  links: 'Import links',
  themes: 'Group the keywords of a file',
  popularity: 'Import a list of popular sites',
}
const nothing = -1
const separatorNames: Record<string, string> = { ',': 'commas', ';': 'semicolons', '\t': 'tabs', '|': 'bars' }

/** A pasted list as the file it would have been. */
const pastedFile = (text: string): File =>
  new File(
    [
      `keyword\n${text
        .split(/\r?\n/)
        .filter(line => line.trim())
        .map(line => `"${line.replaceAll('"', '""')}"`)
        .join('\n')}\n`,
    ],
    'pasted.csv',
    { type: 'text/csv' },
  )

/** Files with the same columns, which are imported by one choice of columns. */
const byColumns = (files: readonly Uploaded[]): Uploaded[][] => {
  const groups = new Map<string, Uploaded[]>()
  for (const file of files) {
    const key = JSON.stringify(file.header)
    const list = groups.get(key)
    if (list) list.push(file)
    else groups.set(key, [file])
  }
  return [...groups.values()]
}

/**
 * Import in two steps: choose one file or several, then say which column is what, with the first lines to see. Files with the same columns
 * go by one choice; those with others come after.
 */
export function ImportDialog({ kind, onClose }: { kind: ImportKind; onClose(): void }) {
  const { site, market } = useSite()
  const { act, pending: busy } = useActing()
  const input = useRef<HTMLInputElement>(null)
  const [waiting, setWaiting] = useState<Uploaded[][]>([])
  const [group] = waiting
  const file = group?.[0] ?? null
  const [mapping, setMapping] = useState<Record<string, number>>({})
  const [keep, setKeep] = useState(false)
  const [period, setPeriod] = useState({ from: '', to: '' })
  const [error, setError] = useState<string | null>(null)
  const [pasted, setPasted] = useState('')
  const show = (groups: Uploaded[][]) => {
    setWaiting(groups)
    setMapping(groups[0]?.[0]?.suggested ?? {})
  }
  const upload = (chosen: readonly File[]) =>
    act(async () => {
      if (!chosen.length) return
      setError(null)
      const [read, wrong]: [Uploaded[], string[]] = [[], []]
      for (const each of chosen)
        try {
          read.push(
            (await send(uploadPath(site.id, kind, each.name), {
              method: 'POST',
              body: each,
              headers: { 'content-type': 'text/csv' },
            })) as Uploaded,
          )
        } catch (failure) {
          wrong.push(chosen.length > 1 ? `${each.name}: ${(failure as Error).message}` : (failure as Error).message)
        }
      if (wrong.length) setError(wrong.join('\n'))
      show(byColumns(read))
    })
  const run = () =>
    act(async () => {
      if (!group) return
      for (const [i, { importId }] of group.entries()) {
        await call(runImport, {
          siteId: site.id,
          importId,
          marketId: market.id,
          keep,
          mapping,
          ...(dateless ? { period } : {}),
        })
        // Should the next one be refused, this one has begun.
        if (i + 1 < group.length) setWaiting([group.slice(i + 1), ...waiting.slice(1)])
      }
      if (waiting.length > 1) show(waiting.slice(1))
      else onClose()
      return {
        say:
          group.length > 1
            ? `The imports of ${group.length} files have started; the foot shows how far they are`
            : 'The import has started; the foot shows how far it is',
      }
    })
  const fields = importFields[kind]
  // A query log without days is of a period.
  const dateless = kind === 'log' && file !== null && mapping.date === undefined
  const needsPeriod = dateless && !(period.from && period.to && period.from <= period.to)
  const missing = fields.filter(field => field.needed && mapping[field.key] === undefined)
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth={file ? 'md' : 'sm'}>
      <DialogTitle>{titles[kind]}</DialogTitle>
      <DialogContent>
        {!file && (
          <div
            onDragOver={event => event.preventDefault()}
            onDrop={(event: DragEvent) => {
              event.preventDefault()
              void upload([...event.dataTransfer.files])
            }}
            style={{
              border: '1px dashed var(--mui-palette-dew-scale2)',
              borderRadius: 5,
              padding: 24,
              textAlign: 'center',
            }}
          >
            <p style={{ marginTop: 0 }}>
              Drop a file here, or several: comma, semicolon or tab separated, or a workbook (XLSX, its first sheet),
              the names of its columns in the first line. The names may be any.
            </p>
            <input
              ref={input}
              type="file"
              accept=".csv,.tsv,.txt,.xlsx,text/csv,text/tab-separated-values"
              hidden
              multiple
              onChange={event => upload([...(event.target.files ?? [])])}
            />
            <Button variant="contained" disabled={busy} onClick={() => input.current?.click()}>
              {busy ? 'Reading' : 'Choose files'}
            </Button>
            {kind === 'keywords' && (
              <div style={{ marginTop: 16, textAlign: 'left' }}>
                <TextField
                  multiline
                  fullWidth
                  minRows={3}
                  maxRows={10}
                  value={pasted}
                  onChange={event => setPasted(event.target.value)}
                  placeholder="Or paste keywords here, one a line"
                  slotProps={{ htmlInput: { 'aria-label': 'Keywords, one a line' } }}
                />
                <Button
                  disabled={busy || !pasted.trim()}
                  onClick={() => void upload([pastedFile(pasted)])}
                  sx={{ mt: 2 }}
                >
                  Go on with these
                </Button>
              </div>
            )}
          </div>
        )}
        {error && (
          <p className="fall" role="alert" style={{ whiteSpace: 'pre-line' }}>
            {error}
          </p>
        )}
        {file && (
          <>
            {(group!.length > 1 || waiting.length > 1) && (
              <p style={{ marginTop: 0 }}>
                <b>{plural(group!.length, 'file')}</b> with these columns
                {waiting.length > 1 && `; then ${plural(waiting.slice(1).flat().length, 'file')} with others`}.
              </p>
            )}
            <p className="quiet" style={{ marginTop: 0 }}>
              {file.encoding.toUpperCase()}, separated by {separatorNames[file.separator] ?? file.separator}. Say which
              column is what; figures without a column stay unknown. Rows go to {formatMarket(market)}
              {kind === 'positions' ? ' unless the file names another market' : ''}.
              {file.headerLine > 1 &&
                ` The names of the columns stand in line ${file.headerLine}; what is above it is left out.`}
            </p>
            <div
              style={{
                display: 'grid',
                gridTemplateColumns: 'repeat(auto-fill, minmax(190px, 1fr))',
                gap: 12,
                marginBottom: 14,
              }}
            >
              {fields.map(field => (
                <label key={field.key} style={{ display: 'flex', flexDirection: 'column', gap: 3 }}>
                  <span>
                    {field.label}
                    {field.needed ? '' : <span className="quiet">, if there</span>}
                  </span>
                  <Select
                    size="small"
                    value={mapping[field.key] ?? nothing}
                    error={field.needed && mapping[field.key] === undefined}
                    onChange={event => {
                      const { [field.key]: _, ...rest } = mapping
                      setMapping(
                        event.target.value === nothing ? rest : { ...rest, [field.key]: Number(event.target.value) },
                      )
                    }}
                    slotProps={{ input: { 'aria-label': field.label } }}
                  >
                    <MenuItem value={nothing}>
                      <span className="unknown">no column</span>
                    </MenuItem>
                    {file.header.map((name, i) => (
                      <MenuItem key={`${i}${name}`} value={i}>
                        {name || `column ${i + 1}`}
                      </MenuItem>
                    ))}
                  </Select>
                </label>
              ))}
            </div>
            {dateless && (
              <div style={{ display: 'flex', gap: 12, alignItems: 'baseline', marginBottom: 14, flexWrap: 'wrap' }}>
                <span>No column of days: its figures are sums</span>
                {(['from', 'to'] as const).map(end => (
                  <TextField
                    key={end}
                    type="date"
                    label={end === 'from' ? 'from' : 'to'}
                    value={period[end]}
                    onChange={event => setPeriod({ ...period, [end]: event.target.value })}
                    slotProps={{ inputLabel: { shrink: true } }}
                  />
                ))}
                <span className="quiet">They are spread evenly over the weeks between.</span>
              </div>
            )}
            <div style={{ overflowX: 'auto' }}>
              <table className="results" style={{ width: 'auto', minWidth: '100%' }}>
                <thead>
                  <tr>
                    {file.header.map((name, i) => {
                      const field = fields.find(each => mapping[each.key] === i)
                      return (
                        <th key={`${i}${name}`}>
                          <b style={{ color: field ? 'var(--mui-palette-dew-lagoon)' : 'inherit' }}>
                            {field?.label ?? 'left out'}
                          </b>
                          <br />
                          {name}
                        </th>
                      )
                    })}
                  </tr>
                </thead>
                <tbody>
                  {file.preview.slice(0, 6).map((row, i) => (
                    <tr key={i}>
                      {file.header.map((_, column) => (
                        <td key={column} style={{ maxWidth: 260 }}>
                          {row[column] ?? ''}
                        </td>
                      ))}
                    </tr>
                  ))}
                </tbody>
              </table>
            </div>
            {kind === 'keywords' && (
              <FormControlLabel
                sx={{ mt: 2 }}
                label="Keep all of them"
                control={<Checkbox checked={keep} onChange={(_, on) => setKeep(on)} />}
              />
            )}
          </>
        )}
      </DialogContent>
      <DialogActions>
        {file && <Button onClick={() => show([])}>Another file</Button>}
        <Button onClick={onClose}>Close</Button>
        {file && (
          <Button variant="contained" disabled={missing.length > 0 || needsPeriod || busy} onClick={run}>
            {missing.length
              ? `Choose the column of ${missing[0]!.label}`
              : needsPeriod
                ? 'Say from which day to which'
                : 'Import'}
          </Button>
        )}
      </DialogActions>
    </Dialog>
  )
}
