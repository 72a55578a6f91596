import { Button, Checkbox, Dialog, DialogActions, DialogContent, DialogTitle, FormControlLabel } from '@mui/material'
import { type FormEvent, useState } from 'react'
import { today } from '../ui/format.ts'
import { useAct } from '../ui/use-act.ts'
import { useChange } from '../ui/use-change.ts'
import { findPieces } from './find-pieces.ts'
import { useReports } from './use-reports.tsx'

/** Puts what the screen shows into a report: its tables and pictures, each with its sentence. */
export default function PutShown({ onClose }: { onClose(): void }) {
  const act = useAct()
  const saving = useChange()
  const { choice, put, isThere } = useReports()
  const [pieces] = useState(() => findPieces(document.querySelector('main') ?? document.body, today()))
  const [chosen, setChosen] = useState<ReadonlySet<number>>(() => new Set(pieces.length === 1 ? [0] : []))
  const save = (event: FormEvent) => {
    event.preventDefault()
    void saving.run(() =>
      act(async () => {
        const sections = []
        for (const [i, piece] of pieces.entries()) if (chosen.has(i)) sections.push(await piece.section(piece.name))
        const done = await put(sections, sections[0]!.title)
        onClose()
        return done
      }),
    )
  }
  const choose = (i: number, on: boolean) =>
    setChosen(before => new Set(on ? [...before, i] : [...before].filter(each => each !== i)))
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm">
      <form onSubmit={save}>
        <DialogTitle>Put what is shown into a report</DialogTitle>
        <DialogContent sx={{ display: 'flex', flexDirection: 'column', gap: 2, pt: '8px !important' }}>
          {pieces.length ? (
            <fieldset className="pieces">
              <legend className="hidden">Tables and pictures of this screen</legend>
              {pieces.map((piece, i) => (
                <FormControlLabel
                  key={piece.name}
                  control={
                    <Checkbox
                      size="small"
                      checked={chosen.has(i)}
                      onChange={event => choose(i, event.target.checked)}
                    />
                  }
                  label={
                    <>
                      {piece.name} <small className="quiet">{piece.about}</small>
                    </>
                  }
                />
              ))}
            </fieldset>
          ) : (
            <p style={{ margin: 0 }}>This screen shows no table or picture that a report could hold.</p>
          )}
          {choice}
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="contained" disabled={saving.pending || !isThere || chosen.size === 0}>
            Put it in
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  )
}
