import { usePageTitle } from '../../ui/ScreenTitle.tsx'
import { lazy, useState } from 'react'
import type { ImportKind } from '@dew-trail/contract/imports'
import { GraphDialog } from '../../imports/GraphDialog.tsx'
import { ImportDialog } from '../../imports/ImportDialog.tsx'
import { useShowDialog } from '../../ui/DialogHost.tsx'
import { JobLine } from '../../ui/JobLine.tsx'
import { CrawlSection } from './CrawlSection.tsx'
import { ImportSection } from './ImportSection.tsx'
import { KeepingSection } from './KeepingSection.tsx'
import { LinkSection } from './LinkSection.tsx'
import { SourceTable } from './SourceTable.tsx'
import { WorkLog } from './WorkLog.tsx'

const SourceGuide = lazy(() => import('./SourceGuide.tsx'))

/** Where figures come from, how old they are, what went wrong, and the work that brings them. */
export default function SourcesScreen() {
  usePageTitle('Sources')
  const show = useShowDialog()
  const [importing, setImporting] = useState<ImportKind | 'graph' | null>(null)
  return (
    <main className="screen whole">
      <div className="main">
        <div className="sources">
          <SourceTable />
          <CrawlSection />
          <LinkSection />
          <ImportSection onImport={setImporting} />
          <KeepingSection />
          <WorkLog />
        </div>
        <div className="foot">
          <button type="button" className="link" onClick={() => show(close => <SourceGuide onClose={close} />)}>
            Which sources a site needs
          </button>
          <span className="quiet">Addresses and rates are set in the server's configuration.</span>
          <span className="foot-end">
            <JobLine />
          </span>
        </div>
      </div>
      {importing === 'graph' && <GraphDialog onClose={() => setImporting(null)} />}
      {importing && importing !== 'graph' && <ImportDialog kind={importing} onClose={() => setImporting(null)} />}
    </main>
  )
}
