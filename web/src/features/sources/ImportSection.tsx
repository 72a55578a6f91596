import { useEndpoint } from '../../api/use-endpoint.ts'
import { archivePath } from '@dew-trail/contract/crawl'
import {
  type AnyImportKind,
  type ImportKind,
  importErrorsPath,
  importFields,
  takeBackImport,
} from '@dew-trail/contract/imports'
import { listImports } from '@dew-trail/contract/sources'
import { useRef } from 'react'
import type { z } from 'zod'
import { call, send } from '../../api/call.ts'
import { Waiting } from '../../api/Waiting.tsx'
import { ActButton } from '../../ui/ActButton.tsx'
import { formatDay, plural } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'

const kinds: Record<AnyImportKind, string> = {
  keywords: 'Keywords',
  positions: 'Positions',
  log: 'Query log',
  links: 'Links',
  themes: 'Keywords with themes',
  popularity: 'Popular sites',
  graph: 'Web graph',
  pages: 'Pages of an archive',
}

/** Files: what may be imported, and what was. */
export function ImportSection({ onImport }: { onImport(kind: ImportKind | 'graph'): void }) {
  const { site } = useSite()
  const { data, error } = useEndpoint(listImports, { siteId: site.id })
  const act = useAct()
  const archive = useRef<HTMLInputElement>(null)
  const sendArchive = (file: File): Promise<void> =>
    act(async () => {
      await send(archivePath(site.id, file.name), { method: 'POST', body: file })
      return { say: `Reading the pages of ${file.name}` }
    })
  const ran = data?.filter(each => each.ran) ?? []
  return (
    <section aria-labelledby="import-title">
      <h2 id="import-title">Files</h2>
      <div style={{ display: 'flex', gap: 16 }}>
        {(Object.keys(importFields) as ImportKind[]).map(kind => (
          <button key={kind} type="button" className="link" onClick={() => onImport(kind)}>
            Import {kinds[kind].toLowerCase()}
          </button>
        ))}
        <button
          type="button"
          className="link"
          title="Two text files: vertices and edges"
          onClick={() => onImport('graph')}
        >
          Import a web graph
        </button>
        <button
          type="button"
          className="link"
          title="A WARC archive (.warc or .warc.gz): its pages and links become known as of the day they were fetched"
          onClick={() => archive.current?.click()}
        >
          Import pages
        </button>
        <input
          ref={archive}
          type="file"
          hidden
          accept=".warc,.gz"
          aria-label="A WARC archive of pages"
          onChange={event => {
            const file = event.target.files?.[0]
            event.target.value = ''
            if (file) void sendArchive(file)
          }}
        />
      </div>
      {!data && <Waiting error={error} />}
      {ran.length > 0 && (
        <table className="results whole-cells" style={{ maxWidth: 980, marginTop: 8 }}>
          <tbody>
            {ran.slice(0, 20).map(each => (
              <tr key={each.id}>
                <td>{each.fileName}</td>
                <td className="quiet">{kinds[each.kind]}</td>
                <td className="quiet">{formatDay(each.createdAt)}</td>
                <td>{!each.reading && <TakeBack file={each} />}</td>
                <td className="n">
                  {each.reading ? (
                    <span className="quiet">being read</span>
                  ) : each.errors ? (
                    <a className="link" href={importErrorsPath(site.id, each.id)}>
                      {plural(each.errors, 'line')} not imported
                    </a>
                  ) : (
                    <span className="quiet">every line imported</span>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  )
}

/** What is left out when an import of a kind is taken back. */
const takenAway: Record<AnyImportKind, string> = {
  keywords: 'Leaves out the keywords that it alone brought, but for those that are kept, tracked, planned or listed',
  positions:
    'Positions stand as before it, but where something else was found since; keywords that it began to track are tracked no longer',
  log: 'The weeks of the log stand as before it',
  links: 'Takes the links away that it alone brought; those that a crawl, a feed or another file knows stay',
  graph: 'Takes the links away that it alone brought; those that a crawl, a feed or another file knows stay',
  pages: 'Its pages and their links stand as before it, but for those that were read again since',
  themes: 'Takes its grouping away, with the keywords that it alone brought and nobody uses',
  popularity: 'The list of popular sites stands as before it',
}

/** Leaves out what an import alone brought, or puts it back. */
function TakeBack({ file }: { file: z.infer<typeof listImports.output>[number] }) {
  const { site } = useSite()
  const { id: importId, kind, fileName, brought, canTakeBack, takenBack } = file
  const alone = brought ? `brought ${plural(brought, 'keyword')} alone` : null
  if (!canTakeBack) return <span className="quiet">{brought === 0 ? 'brought no keyword alone' : ''}</span>
  return (
    <>
      {alone && <span className="quiet">{alone} </span>}
      <ActButton
        label={`${takenBack ? 'Put back' : 'Take back'} ${fileName}`}
        title={takenBack ? 'What it brought is there again' : takenAway[kind]}
        onAct={async () => {
          const { keywords, actId } = await call(takeBackImport, { siteId: site.id, importId, on: !takenBack })
          if (keywords === null) return { say: `${takenBack ? 'Putting back' : 'Taking back'} ${fileName}` }
          return {
            say: `${plural(keywords, 'keyword')} of ${fileName} ${takenBack ? 'put back' : 'taken back'}`,
            actId,
          }
        }}
      >
        {takenBack ? 'Put back' : 'Take back'}
      </ActButton>
    </>
  )
}
