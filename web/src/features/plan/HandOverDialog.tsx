import { listThemeKeywordsLeft } from '@dew-trail/contract/site-map'
import { Button, Checkbox, Dialog, DialogActions, DialogContent, DialogTitle, FormControlLabel } from '@mui/material'
import { useState } from 'react'
import { call } from '../../api/call.ts'
import { ActButton } from '../../ui/ActButton.tsx'
import { download } from '../../ui/download.ts'
import { plural } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { BriefFiles } from './BriefFiles.tsx'
import { handOverWorkbook, type KeywordColumn, keywordColumns, mostSheets } from './hand-over-workbook.ts'
import { usePlan } from './use-plan.ts'

const all = Object.keys(keywordColumns) as KeywordColumn[]
const kept = 'plan-workbook-left-out'
const readLeftOut = (): KeywordColumn[] => {
  try {
    return (JSON.parse(localStorage.getItem(kept) ?? '[]') as KeywordColumn[]).filter(key => key in keywordColumns)
  } catch {
    return []
  }
}

type Props = { pageIds?: readonly number[]; onClose(): void }
/** The plan, or chosen pages of it, as a workbook with a sheet a page, or as briefs in one file. Which columns were left out is kept. */
export default function HandOverDialog({ pageIds, onClose }: Props) {
  const { site, market } = useSite()
  const { pages } = usePlan()
  const [leftOut, setLeftOut] = useState(readLeftOut)
  const wanted = pageIds && new Set(pageIds)
  const chosen = (pages ?? []).filter(page => (wanted ? wanted.has(page.id) : page.state !== 'published'))
  const toggle = (key: KeywordColumn) => {
    const next = leftOut.includes(key) ? leftOut.filter(each => each !== key) : [...leftOut, key]
    setLeftOut(next)
    localStorage.setItem(kept, JSON.stringify(next))
  }
  const at = { siteId: site.id, marketId: market.id }
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm">
      <DialogTitle>
        Hand over{' '}
        {wanted ? plural(chosen.length, 'page') : `${plural(chosen.length, 'page')} that are not published yet`}
      </DialogTitle>
      <DialogContent>
        <h3 style={{ marginTop: 0 }}>Workbook</h3>
        <p className="quiet">
          An overview and a sheet a page: title, description, headings, and its keywords, with those of its themes that
          were not chosen. Columns of the keywords:
        </p>
        <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr' }}>
          {all.map(key => (
            <FormControlLabel
              key={key}
              control={<Checkbox size="small" checked={!leftOut.includes(key)} onChange={() => toggle(key)} />}
              label={keywordColumns[key].label}
            />
          ))}
        </div>
        {chosen.length > mostSheets && (
          <p className="fall">A workbook takes up to {mostSheets} pages. Choose some of them in the list.</p>
        )}
        <ActButton
          disabled={!chosen.length || chosen.length > mostSheets}
          onAct={async () => {
            const left = await call(listThemeKeywordsLeft, at)
            const blob = await handOverWorkbook(
              at,
              chosen,
              all.filter(key => !leftOut.includes(key)),
              page => left.filter(each => page.themes.includes(each.theme)),
            )
            download(blob, `${site.domain}-plan.xlsx`)
          }}
        >
          Save as XLSX
        </ActButton>
        <h3>Briefs</h3>
        <p className="quiet">One after another in one file, each on a page of its own.</p>
        <BriefFiles pages={chosen} />
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  )
}
