import type { ViewState } from '@dew-trail/contract/views'
import { MenuItem } from '@mui/material'
import { lazy, Suspense, useEffect, useRef, useState } from 'react'
import { useAct } from '../ui/use-act.ts'
import type { ExportFormat } from '../rows/row-source.ts'
import { type ShownSheet, useShownSheet } from '../report-pieces/shown-pieces.ts'
import { Menu } from '../ui/floating-later.tsx'

const PutInReport = lazy(() => import('../report-pieces/PutInReport.tsx'))
const formats: Array<[ExportFormat, string]> = [
  ['csv', 'CSV'],
  ['tsv', 'TSV'],
  ['xlsx', 'Workbook (XLSX)'],
  ['json', 'JSON'],
  ['jsonl', 'JSON Lines'],
]

/** Saves or copies what is on screen: these columns, conditions and order, the selected rows where there are any. */
export function ExportMenu({
  onSave,
  onCopy,
  onCopyAddress,
  onCopyNames,
  nameLabel = '',
  onPrint,
  reportTable,
  keep,
  title = 'Table',
  onSaveResults,
}: {
  onSave(format: ExportFormat): Promise<void>
  onCopy(): Promise<number>
  /** Copies the first column alone, which is called so. */
  onCopyNames?(): Promise<number>
  nameLabel?: string
  onPrint(): Promise<number>
  /** Copies where the server gives the same as CSV. */
  onCopyAddress?(): Promise<void>
  /** What a report holds of it, where the server writes the table too; `title`: what the section is called at first. */
  reportTable?(): { name: string; state: ViewState }
  /** What is shown, as a report keeps it. */
  keep: ShownSheet['keep']
  title?: string
  /** Saves them with the first pages' results, a line each, where the table has such. */
  onSaveResults?(format: ExportFormat): Promise<void>
}) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const [put, setPut] = useState<{ name: string; state: ViewState } | null>(null)
  const act = useAct()
  useShownSheet({ title, keep, ...(reportTable ? { live: reportTable } : {}) })
  const print = async () => {
    setAnchor(null)
    await act(async () => void (await onPrint()))
  }
  const latest = useRef(print)
  latest.current = print
  useEffect(() => {
    // The browser's own print would hold the rows in sight alone.
    const onKey = (event: KeyboardEvent) => {
      if (!(event.ctrlKey || event.metaKey) || event.shiftKey || event.altKey || event.key.toLowerCase() !== 'p') return
      if (document.querySelector('.MuiDialog-root')) return
      event.preventDefault()
      void latest.current()
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  }, [])
  const choose = (work: () => Promise<{ say?: string } | void>) => {
    setAnchor(null)
    void act(work)
  }
  return (
    <>
      <button
        type="button"
        className="link"
        aria-haspopup="menu"
        onClick={event => setAnchor(event.currentTarget)}
        title="What is on screen: these columns, conditions and order"
      >
        Export
      </button>
      {anchor && (
        <Menu open anchorEl={anchor} onClose={() => setAnchor(null)}>
          {formats.map(([format, label]) => (
            <MenuItem key={format} onClick={() => choose(() => onSave(format))}>
              {label}
            </MenuItem>
          ))}
          <MenuItem
            onClick={() =>
              choose(async () => {
                const count = await onCopy()
                return { say: `${count.toLocaleString()} rows copied, ready to paste into a sheet` }
              })
            }
          >
            Copy
          </MenuItem>
          {onCopyNames && (
            <MenuItem
              onClick={() =>
                choose(async () => {
                  const count = await onCopyNames()
                  return { say: `${count.toLocaleString()} lines copied` }
                })
              }
            >
              Copy “{nameLabel}” alone, one a line
            </MenuItem>
          )}
          <MenuItem onClick={() => void print()}>
            <span style={{ flex: 1 }}>Print all rows</span> <kbd>Ctrl P</kbd>
          </MenuItem>
          {onCopyAddress && (
            <MenuItem
              onClick={() =>
                choose(async () => {
                  await onCopyAddress()
                  return { say: 'Address copied: a program that opens it gets these columns and conditions as CSV' }
                })
              }
            >
              Copy the address of this as CSV
            </MenuItem>
          )}
          {reportTable && (
            <MenuItem
              onClick={() => {
                setAnchor(null)
                setPut(reportTable())
              }}
            >
              Put into a report
            </MenuItem>
          )}
          {onSaveResults &&
            formats.map(([format, label]) => (
              <MenuItem key={`results-${format}`} onClick={() => choose(() => onSaveResults(format))}>
                {label} with the results of the first pages
              </MenuItem>
            ))}
        </Menu>
      )}
      {put && (
        <Suspense fallback={null}>
          <PutInReport table={put} title={title} onClose={() => setPut(null)} />
        </Suspense>
      )}
    </>
  )
}
