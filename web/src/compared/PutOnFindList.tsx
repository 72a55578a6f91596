import { type FindKind, listFindLists, putOnFindList } from '@dew-trail/contract/finds'
import { Autocomplete, Button, Dialog, DialogActions, DialogContent, DialogTitle, TextField } from '@mui/material'
import { useState } from 'react'
import { call } from '../api/call.ts'
import { useEndpoint } from '../api/use-endpoint.ts'
import { plural } from '../ui/format.ts'
import { useSite } from '../ui/site-context.ts'
import { useAct } from '../ui/use-act.ts'

export const findNouns: Record<FindKind, string> = { sites: 'site', pages: 'page', links: 'link' }
export type FindItem = { what: string; target?: string | null }

/** Puts sites, pages or links on a list, an old one or a new one, by its name. */
export default function PutOnFindList({
  kind,
  items,
  onClose,
}: {
  kind: FindKind
  items: readonly FindItem[]
  onClose(): void
}) {
  const { site } = useSite()
  const act = useAct()
  const lists = (useEndpoint(listFindLists, { siteId: site.id }).data ?? []).filter(each => each.kind === kind)
  const [name, setName] = useState('')
  const noun = findNouns[kind]
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs">
      <form
        onSubmit={event => {
          event.preventDefault()
          onClose()
          void act(async () => {
            const { added, actId } = await call(putOnFindList, { siteId: site.id, kind, name, items: [...items] })
            return added
              ? { say: `${plural(added, noun)} put on "${name.trim()}"`, actId }
              : { say: `On "${name.trim()}" already`, actId }
          })
        }}
      >
        <DialogTitle>Put {plural(items.length, noun)} on a list</DialogTitle>
        <DialogContent>
          <Autocomplete
            freeSolo
            options={lists.map(each => each.name)}
            inputValue={name}
            onInputChange={(_, value) => setName(value)}
            renderInput={params => (
              <TextField
                {...params}
                autoFocus
                label="List"
                helperText="One of those there are, or a new name"
                sx={{ mt: 1 }}
              />
            )}
          />
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="contained" disabled={!name.trim()}>
            Put on the list
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  )
}
