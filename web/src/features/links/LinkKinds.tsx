import { readLinkKinds } from '@dew-trail/contract/link-lists'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { Waiting } from '../../api/Waiting.tsx'
import { colourOf } from '../../compared/use-compared.ts'
import { formatShare, formatWhole, plural } from '../../ui/format.ts'
import { setParam, useAddress } from '../../ui/use-address.ts'
import { useLinks } from './use-links.ts'

/** What kinds of sites link to each of the compared ones; a kind leads to the list of such sites. */
export function LinkKinds({ targets }: { targets: readonly string[] }) {
  return (
    <section aria-label="Kinds of linking sites">
      <h2 style={{ margin: '0 0 8px' }}>What kinds of sites link</h2>
      <table className="results whole-cells">
        <tbody>
          {targets.map((target, at) => (
            <KindsOf key={target} target={target} at={at} />
          ))}
        </tbody>
      </table>
    </section>
  )
}

function KindsOf({ target, at }: { target: string; at: number }) {
  const { scope } = useLinks([target])
  const [, change] = useAddress()
  const { data, error } = useEndpoint(readLinkKinds, { ...scope, target })
  const list = (kind: string) =>
    change(params => {
      setParam('see', 'sites')(params)
      setParam('of', at ? target : null)(params)
      params.delete('where')
      params.append('where', `kind:is:${kind}`)
    }, true)
  return (
    <tr>
      <th scope="row" style={{ borderLeft: `3px solid ${colourOf(at)}`, paddingLeft: 8, width: 180 }}>
        {target}
      </th>
      <td>
        {!data ? (
          <Waiting error={error} />
        ) : (
          <>
            {data.kinds.map((each, i) => (
              <span key={each.key}>
                {i > 0 && ', '}
                <button
                  type="button"
                  className="link"
                  title={`${plural(each.sites, 'site')} with ${plural(each.links, 'link')}`}
                  onClick={() => list(each.key)}
                >
                  {each.key}
                </button>{' '}
                {formatWhole(each.sites)} ({formatShare(each.sites / Math.max(1, data.looked))})
              </span>
            ))}
            {data.looked < data.sites && (
              <span className="quiet">
                {' '}
                of the {formatWhole(data.looked)} strongest of {formatWhole(data.sites)}
              </span>
            )}
          </>
        )}
      </td>
    </tr>
  )
}
