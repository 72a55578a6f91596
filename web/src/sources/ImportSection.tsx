import { type ImportKind, importErrorsPath } from '@dew-trail/contract/imports'
import { listImports } from '@dew-trail/contract/sources'
import { useQuery } from '@tanstack/react-query'
import { call } from '../api/call.ts'
import { formatDay, formatWhole } from '../format.ts'
import { useSite } from '../shell/site-context.ts'

const kinds: Record<ImportKind, string> = {
  keywords: 'Keywords',
  positions: 'Positions',
  log: 'Query log',
  links: 'Links',
}

/** Files: what may be imported, and what was. */
export function ImportSection({ onImport }: { onImport(kind: ImportKind): void }) {
  const { site } = useSite()
  const { data } = useQuery({
    queryKey: ['imports', site.id],
    queryFn: () => call(listImports, { siteId: site.id }),
  })
  const ran = data?.filter(each => each.ran) ?? []
  return (
    <section aria-labelledby="import-title">
      <h2 id="import-title">Files</h2>
      <div style={{ display: 'flex', gap: 16 }}>
        {(Object.keys(kinds) as ImportKind[]).map(kind => (
          <button key={kind} type="button" className="link" onClick={() => onImport(kind)}>
            Import {kinds[kind].toLowerCase()}
          </button>
        ))}
      </div>
      {ran.length > 0 && (
        <table className="results" style={{ maxWidth: 760 }}>
          <tbody>
            {ran.slice(0, 10).map(each => (
              <tr key={each.id}>
                <td>{each.fileName}</td>
                <td className="quiet">{kinds[each.kind]}</td>
                <td className="quiet">{formatDay(each.createdAt)}</td>
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
