import { readNeighbourhood } from '@dew-trail/contract/link-lists'
import { lazy, Suspense } from 'react'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { Waiting } from '../../api/Waiting.tsx'
import { AsTable } from '../../pictures/AsTable.tsx'
import { plural } from '../../ui/format.ts'
import { useLinks } from './use-links.ts'

const NeighbourPicture = lazy(() => import('./NeighbourPicture.tsx'))

/** The best linking sites and the links among them, as a picture and in words; networks that look made stand out. */
export function Neighbourhood({ target }: { target: string }) {
  const { scope } = useLinks([target])
  const { data, error } = useEndpoint(readNeighbourhood, { ...scope, target })
  if (!data) return <Waiting error={error} />
  if (data.sites.length < 2) return null
  const degree = data.sites.map(
    (_, i) => new Set(data.links.flatMap(({ from, to }) => (from === i ? [to] : to === i ? [from] : []))).size,
  )
  const most = degree.indexOf(Math.max(...degree))
  const mutual = data.links.filter(link =>
    data.links.some(back => back.from === link.to && back.to === link.from && back.from < back.to),
  ).length
  const made = data.sites.filter(site => site.network !== null).length
  return (
    <section aria-label="Neighbourhood">
      <div style={{ display: 'flex', gap: 16, alignItems: 'baseline' }}>
        <h2 style={{ margin: '0 0 6px' }}>Neighbourhood of {target}</h2>
        <AsTable
          of="Neighbourhood"
          head={['Site', 'standing', 'trust', 'links to', 'linked from', 'network']}
          rows={() =>
            data.sites.map((site, i) => [
              site.domain,
              site.standing === null ? null : Math.round(site.standing),
              site.trust === null ? null : Math.round(site.trust),
              data.links.filter(link => link.from === i).length,
              data.links.filter(link => link.to === i).length,
              site.network === null ? 'none' : `network ${site.network}`,
            ])
          }
        />
      </div>
      <p className="quiet" style={{ margin: '0 0 6px' }}>
        The {data.sites.length} linking sites of the highest standing; {plural(data.links.length, 'link')} among them,{' '}
        {mutual} of these pairs mutual. {data.sites[most]!.domain} is tied to {degree[most]} of the others.{' '}
        {made
          ? `${plural(made, 'site is', 'sites are')} of networks that look made, drawn with a ring.`
          : 'None is of a network that looks made.'}
      </p>
      <Suspense fallback={<p className="quiet">Drawing</p>}>
        <NeighbourPicture sites={data.sites} links={data.links} />
      </Suspense>
    </section>
  )
}
