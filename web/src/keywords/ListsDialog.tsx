import type { KeywordList, ListKind } from '@dew-trail/contract/lists'
import { Button, Dialog, DialogActions, DialogContent, DialogTitle, TextField } from '@mui/material'
import { type FormEvent, useState } from 'react'
import { useChange } from '../ui/use-change.ts'
import { plural } from '../ui/format.ts'
import { useLists } from './use-lists.ts'

/** Renames and removes lists of a kind, and says what visits by a label are worth. */
export function ListsDialog({ kind, title, onClose }: { kind: ListKind; title: string; onClose(): void }) {
  const { lists, rename, value, remove } = useLists(kind)
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth={kind === 'label' ? 'sm' : 'xs'}>
      <DialogTitle>{title}</DialogTitle>
      <DialogContent sx={{ display: 'flex', flexDirection: 'column', gap: 2, pt: '8px !important' }}>
        {kind === 'label' && lists.length > 0 && (
          <p className="quiet" style={{ margin: 0 }}>
            What a visit is worth to you by a label goes before that of the site and before CPC; of several labels of a
            keyword, the one that is worth most.
          </p>
        )}
        {lists.map(list => (
          <div key={list.id} style={{ display: 'flex', gap: 8, alignItems: 'center' }}>
            <ListLine list={list} onRename={rename} onRemove={remove} />
            {kind === 'label' && <LabelWorth list={list} onSave={value} />}
          </div>
        ))}
        {!lists.length && <p className="quiet">None is left.</p>}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  )
}

type Props = {
  list: KeywordList
  onRename(list: KeywordList, name: string): Promise<void>
  onRemove(list: KeywordList): Promise<void>
}
function ListLine({ list, onRename, onRemove }: Props) {
  const [name, setName] = useState(list.name)
  const isNew = name.trim() !== '' && name.trim() !== list.name
  const save = (event: FormEvent) => {
    event.preventDefault()
    if (isNew) void onRename(list, name.trim())
  }
  return (
    <form onSubmit={save} style={{ display: 'flex', gap: 8, alignItems: 'center', flex: 1 }}>
      <TextField
        value={name}
        fullWidth
        onChange={event => setName(event.target.value)}
        slotProps={{ htmlInput: { 'aria-label': `Name of ${list.name}`, maxLength: 80 } }}
      />
      <small className="quiet" style={{ whiteSpace: 'nowrap' }}>
        {plural(list.keywords, 'keyword')}
      </small>
      <Button type="submit" disabled={!isNew}>
        Rename
      </Button>
      <Button onClick={() => void onRemove(list)} aria-label={`Remove ${list.name}`}>
        Remove
      </Button>
    </form>
  )
}

/** What a visit by keywords with a label is worth; saved when it is left, or by Enter. */
function LabelWorth({
  list,
  onSave,
}: {
  list: KeywordList
  onSave(list: KeywordList, worth: number | null): Promise<void>
}) {
  const given = list.visitWorth === null ? '' : String(list.visitWorth)
  const [typed, setTyped] = useState<string | null>(null)
  const text = typed ?? given
  const worth = text.trim() === '' ? null : Number(text.replace(',', '.'))
  const isGood = worth === null || (worth >= 0.001 && worth <= 1_000_000)
  // Enter saves, and leaving the box while that is under way is no second wish.
  const saving = useChange()
  const save = async (event?: FormEvent) => {
    event?.preventDefault()
    if (!isGood || worth === list.visitWorth) return
    await saving.run(async () => {
      await onSave(list, worth)
      setTyped(null)
    })
  }
  return (
    <form onSubmit={save}>
      <TextField
        value={text}
        error={!isGood}
        placeholder="as others"
        label="a visit is worth"
        sx={{ width: 128 }}
        onChange={event => setTyped(event.target.value)}
        onBlur={() => void save()}
        slotProps={{
          inputLabel: { shrink: true },
          htmlInput: { inputMode: 'decimal', 'aria-label': `What a visit by ${list.name} is worth` },
        }}
      />
    </form>
  )
}
