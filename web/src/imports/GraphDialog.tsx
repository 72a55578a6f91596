import { edgesPath, verticesPath } from '@dew-trail/contract/imports'
import { Button, Dialog, DialogActions, DialogContent, DialogTitle } from '@mui/material'
import { useState } from 'react'
import { send } from '../api/call.ts'
import { formatWhole } from '../ui/format.ts'
import { useSite } from '../ui/site-context.ts'
import { useActing } from '../ui/use-act.ts'

const formatSize = (bytes: number): string =>
  bytes < 1_000_000 ? `${formatWhole(Math.ceil(bytes / 1_000))} kB` : `${formatWhole(bytes / 1_000_000)} MB`

type PartProps = { label: string; example: string; file: File | null; onChoose(file: File | null): void }

function Part({ label, example, file, onChoose }: PartProps) {
  return (
    <div style={{ display: 'flex', alignItems: 'baseline', gap: 12, marginTop: 12 }}>
      <Button component="label" variant={file ? 'text' : 'outlined'} sx={{ flex: 'none', width: 130 }}>
        {label}
        <input
          type="file"
          hidden
          aria-label={`File of ${label.toLowerCase()}`}
          onChange={event => onChoose(event.target.files?.[0] ?? null)}
        />
      </Button>
      {file ? (
        <span style={{ overflowWrap: 'anywhere' }}>
          {file.name} <span className="quiet">({formatSize(file.size)})</span>
        </span>
      ) : (
        <span className="quiet">
          one a line: <code>{example}</code>
        </span>
      )}
    </div>
  )
}

/** A web graph from two files: what the numbers stand for, and which links to which. */
export function GraphDialog({ onClose }: { onClose(): void }) {
  const { site } = useSite()
  const { act, pending: busy } = useActing()
  const [vertices, setVertices] = useState<File | null>(null)
  const [edges, setEdges] = useState<File | null>(null)
  const [error, setError] = useState<string | null>(null)
  const start = () =>
    act(async () => {
      if (!vertices || !edges) return
      setError(null)
      try {
        const { importId } = (await send(verticesPath(site.id, vertices.name), { method: 'POST', body: vertices })) as {
          importId: number
        }
        await send(edgesPath(site.id, importId, edges.name), { method: 'POST', body: edges })
        onClose()
        return { say: 'The web graph is being read; the foot shows how far it is' }
      } catch (failure) {
        setError((failure as Error).message)
        return
      }
    })
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm">
      <DialogTitle>Import a web graph</DialogTitle>
      <DialogContent>
        <p style={{ marginTop: 0 }}>
          Two text files, plain or gzip. A vertex is a page or a host; host names may also be written from the top-level
          domain on (<code>example.clay.www</code>). Edges go from the linking to the linked one and become links
          without anchor, merged with what crawls, feeds and lists know.
        </p>
        <Part label="Vertices" example="12 &#8677; www.clay.example" file={vertices} onChoose={setVertices} />
        <Part label="Edges" example="12 &#8677; 7" file={edges} onChoose={setEdges} />
        {error && (
          <p className="fall" role="alert">
            {error}
          </p>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button variant="contained" disabled={!vertices || !edges || busy} onClick={() => void start()}>
          {busy ? 'Sending' : 'Import'}
        </Button>
      </DialogActions>
    </Dialog>
  )
}
