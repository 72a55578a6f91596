import { listFeeds, loadFeeds } from '@dew-trail/contract/links'
import {
  Button,
  Checkbox,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  FormControlLabel,
  FormGroup,
  MenuItem,
  TextField,
} from '@mui/material'
import { useState } from 'react'
import { call } from '../../api/call.ts'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { formatWhole, plural } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'
import { useChange } from '../../ui/use-change.ts'

const pageChoices = [0, 50, 200, 1_000, 2_000]

/** Which sources are asked about the links to some sites, and of how many of these the pages are read; what that costs is said before. */
export default function LoadLinksDialog({ domains, onClose }: { domains: readonly string[]; onClose(): void }) {
  const { site } = useSite()
  const act = useAct()
  const { run, pending } = useChange()
  const { data: feeds, error } = useEndpoint(listFeeds, { siteId: site.id })
  const [left, setLeft] = useState<readonly string[]>([])
  const [readPages, setReadPages] = useState(0)
  const asked = (feeds ?? []).filter(feed => !left.includes(feed))
  const start = () =>
    run(() =>
      act(async () => {
        await call(loadFeeds, {
          siteId: site.id,
          domains: [...domains],
          readPages,
          ...(left.length ? { feeds: asked } : {}),
        })
        onClose()
        return { say: `Loading links to ${plural(domains.length, 'site')}; the foot shows how far it is` }
      }),
    )
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth>
      <DialogTitle>Load links to {domains.length === 1 ? domains[0] : plural(domains.length, 'site')}</DialogTitle>
      <DialogContent sx={{ display: 'flex', flexDirection: 'column', gap: 3, pt: '8px !important' }}>
        {error && <p role="alert">{error.message}</p>}
        <FormGroup aria-label="Link feeds that are asked">
          {(feeds ?? []).map(feed => (
            <FormControlLabel
              key={feed}
              label={`Ask the link feed “${feed}”`}
              control={
                <Checkbox
                  size="small"
                  checked={!left.includes(feed)}
                  onChange={(_, on) => setLeft(on ? left.filter(each => each !== feed) : [...left, feed])}
                />
              }
            />
          ))}
        </FormGroup>
        <TextField
          select
          label="Then read with our crawler"
          value={readPages}
          onChange={event => setReadPages(Number(event.target.value))}
          helperText="Whether the link is there, the words around it, where on the page it stands, language, links out, contact"
        >
          {pageChoices.map(count => (
            <MenuItem key={count} value={count}>
              {count ? `the ${formatWhole(count)} best linking pages of each site` : 'no linking page'}
            </MenuItem>
          ))}
        </TextField>
        <p className="quiet" style={{ margin: 0 }} aria-live="polite">
          {asked.length
            ? `At least ${plural(asked.length * domains.length, 'request')} to the link feeds: one a site and feed, and one more for each 5,000 links.`
            : 'No feed is asked.'}{' '}
          {readPages > 0 &&
            `At most ${plural(readPages * domains.length, 'page')} read from the web, at the pace that each host allows; those read within 30 days are left out.`}
        </p>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button variant="contained" disabled={pending || !feeds || !asked.length} onClick={() => void start()}>
          Load
        </Button>
      </DialogActions>
    </Dialog>
  )
}
