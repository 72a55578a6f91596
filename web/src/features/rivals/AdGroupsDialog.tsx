import { type AdKeyword, groupForAds, highestBid } from '@dew-trail/core/rivals/ad-groups'
import { Button, Dialog, DialogActions, DialogContent, DialogTitle, MenuItem, TextField } from '@mui/material'
import { useEffect, useMemo, useState } from 'react'
import type { Row, WholeSource } from '../../rows/row-source.ts'
import { download } from '../../ui/download.ts'
import { formatMoney, formatWhole, plural } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'

const matchTypes = { exact: 'Exact', phrase: 'Phrase', broad: 'Broad' } as const
type MatchType = keyof typeof matchTypes
const toKeyword = (row: Row): AdKeyword => ({
  id: row.id,
  phrase: String(row.phrase),
  searches: row.searches as number | null,
  cpc: row.cpc as number | null,
  bidLow: row.bidLow as number | null,
  bidHigh: row.bidHigh as number | null,
})

/** Keywords as ad groups, by the words they share, with bids; as a file with one line a keyword. */
export default function AdGroupsDialog({
  source,
  ids,
  onClose,
}: {
  source: WholeSource
  ids: number[] | null
  onClose(): void
}) {
  const { site, market } = useSite()
  const [keywords, setKeywords] = useState<AdKeyword[] | null>(null)
  const [least, setLeast] = useState('3')
  const [match, setMatch] = useState<MatchType>('phrase')
  const [campaign, setCampaign] = useState(`${site.name}, gaps`)
  useEffect(() => {
    source.rows(ids ?? undefined).then(
      rows => setKeywords(rows.map(toKeyword)),
      () => setKeywords([]),
    )
  }, [source, ids])
  const groups = useMemo(
    () =>
      groupForAds(keywords ?? [], {
        language: market.language,
        least: Math.max(1, Number(least) || 1),
        restName: 'Others',
      }),
    [keywords, market.language, least],
  )
  const save = async (plain: boolean) => {
    const { exportTable } = await import('../../rows/export-table.ts')
    const rows = groups.flatMap(group =>
      group.keywords.map(keyword =>
        plain
          ? [group.name, keyword.phrase, keyword.searches, keyword.cpc]
          : [campaign, group.name, keyword.phrase, matchTypes[match], highestBid(keyword)],
      ),
    )
    const labels = plain
      ? ['Group', 'Keyword', 'Searches', 'CPC']
      : ['Campaign', 'Ad group', 'Keyword', 'Match type', 'Highest bid']
    const columns = labels.map(label => ({ key: label, label }))
    const file = await exportTable('csv', { title: 'Ad groups', columns, rows })
    download(file, `${site.domain}-ad-groups${plain ? '-plain' : ''}.csv`)
  }
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="md">
      <DialogTitle>Ad groups of {keywords ? plural(keywords.length, 'keyword') : '…'}</DialogTitle>
      <DialogContent sx={{ display: 'flex', flexDirection: 'column', gap: 4, pt: '8px !important' }}>
        <div style={{ display: 'flex', gap: 12 }}>
          <TextField label="Campaign" value={campaign} fullWidth onChange={event => setCampaign(event.target.value)} />
          <TextField
            label="Keywords in a group, at least"
            type="number"
            value={least}
            sx={{ width: 200, flexShrink: 0 }}
            onChange={event => setLeast(event.target.value)}
            slotProps={{ htmlInput: { min: 1, max: 500 } }}
          />
          <TextField
            select
            label="Match type"
            value={match}
            sx={{ width: 130, flexShrink: 0 }}
            onChange={event => setMatch(event.target.value as MatchType)}
          >
            {Object.entries(matchTypes).map(([key, label]) => (
              <MenuItem key={key} value={key}>
                {label}
              </MenuItem>
            ))}
          </TextField>
        </div>
        <p className="quiet" style={{ margin: 0 }}>
          Keywords that share a word stand together. The highest bid is the middle of the bid range that the ads data
          gives, or else the CPC; where neither is known it is left empty.
        </p>
        <table className="results whole-cells">
          <thead>
            <tr>
              <th>Ad group</th>
              <th className="n">keywords</th>
              <th className="n">searches</th>
              <th className="n">mean bid</th>
              <th>Such as</th>
            </tr>
          </thead>
          <tbody>
            {groups.map(group => {
              const bids = group.keywords.map(each => highestBid(each)).filter(bid => bid !== null)
              return (
                <tr key={group.name}>
                  <td>{group.name}</td>
                  <td className="n">{formatWhole(group.keywords.length)}</td>
                  <td className="n">
                    {formatWhole(group.keywords.reduce((sum, each) => sum + (each.searches ?? 0), 0))}
                  </td>
                  <td className="n">
                    {bids.length ? (
                      formatMoney(bids.reduce((sum, bid) => sum + bid, 0) / bids.length)
                    ) : (
                      <span className="unknown">unknown</span>
                    )}
                  </td>
                  <td className="quiet" style={{ whiteSpace: 'normal' }}>
                    {group.keywords
                      .slice(0, 3)
                      .map(each => each.phrase)
                      .join(', ')}
                  </td>
                </tr>
              )
            })}
          </tbody>
        </table>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
        <Button disabled={!groups.length} onClick={() => void save(true)}>
          Plain CSV
        </Button>
        <Button variant="contained" disabled={!groups.length} onClick={() => void save(false)}>
          CSV for ads
        </Button>
      </DialogActions>
    </Dialog>
  )
}
