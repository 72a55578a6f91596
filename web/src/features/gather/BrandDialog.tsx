import { useEndpoint } from '../../api/use-endpoint.ts'
import { type BrandWords, listBrands, saveBrands } from '@dew-trail/contract/brands'
import { Button, Dialog, DialogActions, DialogContent, DialogTitle, IconButton, TextField } from '@mui/material'
import { X } from 'lucide-react'
import { useEffect, useState } from 'react'
import { call } from '../../api/call.ts'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'

type Draft = { owner: string; own: boolean; words: string }

/** Brand words of the site and of rivals: keywords with them are marked and can be set aside. */
export default function BrandDialog({ onClose }: { onClose(): void }) {
  const { site } = useSite()
  const act = useAct()
  const [draft, setDraft] = useState<Draft[] | null>(null)
  const { data } = useEndpoint(listBrands, { siteId: site.id })
  useEffect(() => {
    if (data) setDraft(data.map(each => ({ ...each, words: each.words.join(', ') })))
  }, [data])
  const change = (at: number, part: Partial<Draft>) =>
    setDraft(draft!.map((each, i) => (i === at ? { ...each, ...part } : each)))
  const save = () =>
    act(async () => {
      const brands: BrandWords[] = draft!
        .filter(each => each.owner.trim())
        .map(each => ({
          owner: each.owner.trim(),
          own: each.own,
          words: each.words
            .split(',')
            .map(word => word.trim())
            .filter(Boolean),
        }))
      const { actId } = await call(saveBrands, { siteId: site.id, brands })
      onClose()
      return { say: 'Brand words saved; keywords are marked anew', actId }
    })
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm">
      <DialogTitle>Brand words</DialogTitle>
      <DialogContent>
        <p className="quiet" style={{ marginTop: 0 }}>
          Keywords with these words in a row are brand demand: people already know whom they want. Separate wordings by
          commas; a rival without words gets the name part of its domain.
        </p>
        {(draft ?? []).map((each, at) => (
          <div key={at} style={{ display: 'flex', gap: 8, marginBottom: 8, alignItems: 'center' }}>
            <TextField
              value={each.owner}
              disabled={each.own}
              placeholder="rival.example"
              onChange={event => change(at, { owner: event.target.value })}
              sx={{ width: 190 }}
              slotProps={{ htmlInput: { 'aria-label': 'Whose words' } }}
            />
            <TextField
              value={each.words}
              placeholder="wordings, separated by commas"
              onChange={event => change(at, { words: event.target.value })}
              sx={{ flex: 1 }}
              slotProps={{ htmlInput: { 'aria-label': `Words of ${each.owner || 'the new brand'}` } }}
            />
            {each.own ? (
              <span className="own" style={{ width: 28, textAlign: 'center' }}>
                you
              </span>
            ) : (
              <IconButton
                size="small"
                aria-label={`Remove ${each.owner}`}
                onClick={() => setDraft(draft!.filter((_, i) => i !== at))}
              >
                <X size={14} />
              </IconButton>
            )}
          </div>
        ))}
        <button
          type="button"
          className="link"
          onClick={() => setDraft([...(draft ?? []), { owner: '', own: false, words: '' }])}
        >
          Add a rival
        </button>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button variant="contained" disabled={!draft} onClick={() => void save()}>
          Save
        </Button>
      </DialogActions>
    </Dialog>
  )
}
