import { createPage, type WorkKind } from '@dew-trail/contract/plan'
import { X } from 'lucide-react'
import { Link } from 'react-router'
import { call } from '../../api/call.ts'
import { ActButton } from '../../ui/ActButton.tsx'
import { formatWhole } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { setParam, useAddress } from '../../ui/use-address.ts'
import type { MapRow } from './map-rows.ts'
import { kindLabels } from './plan-words.ts'

const offered: WorkKind[] = ['rework', 'keep', 'merge', 'remove']

/** A page of the site that the plan does not have yet: what it does, and how it comes to the plan. */
export function UnplannedPanel({ row, onClose }: { row: MapRow; onClose(): void }) {
  const { site, market } = useSite()
  const [, change] = useAddress()
  return (
    <aside className="page-panel" aria-label={row.name}>
      <div className="panel-head">
        <h2>{row.name}</h2>
        <button type="button" className="link" aria-label="Close" onClick={onClose}>
          <X size={15} />
        </button>
      </div>
      <p className="quiet" style={{ overflowWrap: 'anywhere' }}>
        {row.address && (
          <a className="link" href={row.address} target="_blank" rel="noreferrer">
            {row.address}
          </a>
        )}
        <br />
        Not on the plan.{' '}
        {row.lead === null
          ? 'It stands for no keyword that is known.'
          : `It stands at ${Math.round(row.position!)} for "${row.lead}"${row.visitsNow === null ? '' : `, and gets about ${formatWhole(row.visitsNow)} visits a month`}.`}
      </p>
      <h3>Put it on the plan</h3>
      {offered.map(kind => (
        <div key={kind}>
          <ActButton
            onAct={async () => {
              const { id, actId } = await call(createPage, {
                siteId: site.id,
                title: row.name.slice(0, 200),
                address: row.address,
                kind,
              })
              change(setParam('page', String(id)))
              return { say: `"${row.name}" is on the plan`, actId }
            }}
          >
            {kindLabels[kind]}
          </ActButton>
        </div>
      ))}
      {row.address && (
        <p>
          <Link
            className="link"
            to={`/${site.id}/rivals?market=${market.id}&of=${encodeURIComponent(row.address)}&see=keywords`}
          >
            Keywords it stands for
          </Link>
        </p>
      )}
    </aside>
  )
}
