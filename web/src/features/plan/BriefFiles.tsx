import type { PlannedPage } from '@dew-trail/contract/plan'
import { ActButton } from '../../ui/ActButton.tsx'
import { download } from '../../ui/download.ts'
import { useSite } from '../../ui/site-context.ts'

/** Briefs as files, several in one. */
export function BriefFiles({ pages }: { pages: readonly PlannedPage[] }) {
  const { site, market } = useSite()
  const name =
    pages.length === 1
      ? `${site.domain}-brief-${pages[0]!.title
          .toLowerCase()
          .replace(/[^\p{L}\p{N}]+/gu, '-')
          .slice(0, 60)}`
      : `${site.domain}-briefs`
  const make = async (what: 'md' | 'docx' | 'print') => {
    const { briefsDocument, markdownFile, docxFile, printBlocks } = await import('./brief-document.ts')
    const blocks = await briefsDocument(site.id, market.id, pages)
    if (what === 'print') await printBlocks(name, blocks)
    else download(what === 'md' ? markdownFile(blocks) : await docxFile(blocks), `${name}.${what}`)
  }
  return (
    <div className="brief-files">
      <ActButton disabled={!pages.length} onAct={() => make('md')}>
        Markdown
      </ActButton>
      <ActButton disabled={!pages.length} onAct={() => make('docx')}>
        DOCX
      </ActButton>
      <ActButton disabled={!pages.length} onAct={() => make('print')}>
        Print
      </ActButton>
    </div>
  )
}
