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
import { formatDay, formatWhole } from '../../ui/format.ts'
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
}

/** Files: what may be imported, and what was. */
export function ImportSection({ onImport }: { onImport(kind: AnyImportKind): void }) {
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
        <table className="results" style={{ maxWidth: 980 }}>
          <tbody>
            {ran.slice(0, 20).map(each => (
              <tr key={each.id}>
                <td>{each.fileName}</td>
                <td className="quiet">{kinds[each.kind]}</td>
                <td className="quiet">{formatDay(each.createdAt)}</td>
                <td>
                  <TakeBack file={each} />
                </td>
                <td className="n">
                  {each.errors ? (
                    <a className="link" href={importErrorsPath(site.id, each.id)}>
                      {formatWhole(each.errors)} lines not imported
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

/** Leaves out what an import of keywords alone brought, or puts it back. */
function TakeBack({ file }: { file: z.infer<typeof listImports.output>[number] }) {
  const { site } = useSite()
  const { id: importId, fileName, brought, takenBack } = file
  if (brought === null) return null
  if (!brought) return <span className="quiet">brought no keyword alone</span>
  return (
    <>
      <span className="quiet">{`brought ${formatWhole(brought)} alone`}</span>{' '}
      <ActButton
        label={`${takenBack ? 'Put back' : 'Take back'} ${fileName}`}
        title={
          takenBack
            ? 'Its keywords stand in Gather again'
            : 'Leaves out the keywords that it alone brought, but for those that are kept, tracked, planned or listed'
        }
        onAct={async () => {
          const { keywords, actId } = await call(takeBackImport, { siteId: site.id, importId, on: !takenBack })
          return {
            say: `${formatWhole(keywords)} keywords of ${fileName} are ${takenBack ? 'back' : 'taken back'}`,
            actId,
          }
        }}
      >
        {takenBack ? 'Put back' : 'Take back'}
      </ActButton>
    </>
  )
}
