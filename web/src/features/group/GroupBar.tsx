import { changeGrouping, type Grouping, refreshGrouping, removeGrouping } from '@dew-trail/contract/group'
import { MenuItem, TextField } from '@mui/material'
import { lazy } from 'react'
import { call } from '../../api/call.ts'
import { useShowDialog } from '../../ui/DialogHost.tsx'
import { formatDay, formatWhole } from '../../ui/format.ts'
import { MoreMenu } from '../../ui/MoreMenu.tsx'
import { useSite } from '../../ui/site-context.ts'
import { TabBar } from '../../ui/TabBar.tsx'
import { useAct } from '../../ui/use-act.ts'
import { setParam, useAddress } from '../../ui/use-address.ts'
import { type Tab, tabs } from './use-grouping.ts'

const TextDialog = lazy(() => import('../../ui/TextDialog.tsx'))
const GroupDialog = lazy(() => import('./GroupDialog.tsx'))

/** How a grouping was made, in a few words. */
export const methodText = ({ basis, method, threshold }: Pick<Grouping, 'basis' | 'method' | 'threshold'>): string =>
  basis === 'given'
    ? 'Themes as they came'
    : basis === 'words'
      ? 'By shared words, without results'
      : `${method === 'lead' ? 'Around a lead' : 'Every pair agrees'}, ${threshold} of ten pages shared`

type Props = { groupings: readonly Grouping[]; grouping: Grouping; see: Tab }
/** Which grouping is looked at, what can be done with it as a whole, and what of it is shown. */
export function GroupBar({ groupings, grouping, see }: Props) {
  const { site } = useSite()
  const [, change] = useAddress()
  const show = useShowDialog()
  const act = useAct()
  const one = { siteId: site.id, groupingId: grouping.id }
  const choose = (id: number) =>
    change(params => {
      setParam('grouping', String(id))(params)
      for (const name of ['threshold', 'method', 'open', 'beside']) params.delete(name)
    }, true)
  const again = (oldestDays: number, say: string) =>
    act(async () => {
      await call(refreshGrouping, { ...one, oldestDays })
      return { say }
    })
  const running = grouping.jobState === 'running' || grouping.jobState === 'waiting'
  return (
    <div className="bar" role="toolbar" aria-label="Grouping">
      <TextField
        select
        value={grouping.id}
        sx={{ minWidth: 200, maxWidth: 340 }}
        onChange={event => choose(Number(event.target.value))}
        slotProps={{ htmlInput: { 'aria-label': 'Grouping' } }}
      >
        {groupings.map(each => (
          <MenuItem key={each.id} value={each.id}>
            <span className="cut" style={{ maxWidth: 300 }}>
              {each.name}
              <span className="quiet">
                {' '}
                · {formatWhole(each.keywords)}, {formatDay(each.createdAt)}
                {each.current ? ', current' : ''}
              </span>
            </span>
          </MenuItem>
        ))}
      </TextField>
      <span
        className="quiet cut"
        style={{ maxWidth: 260 }}
        title={`From ${grouping.source}${grouping.leftOut.length ? `, without pages of ${grouping.leftOut.join(', ')}` : ''}`}
      >
        {methodText(grouping)}
      </span>
      <button type="button" className="link" onClick={() => show(close => <GroupDialog onClose={close} />)}>
        Group anew
      </button>
      <MoreMenu
        items={[
          {
            label: grouping.current ? 'It is the current grouping' : 'Make it the current grouping',
            run: grouping.current
              ? undefined
              : () =>
                  void act(async () => {
                    const { actId } = await call(changeGrouping, { ...one, current: true })
                    return { say: `The trail counts the themes of "${grouping.name}" now`, actId }
                  }),
          },
          {
            label: 'Rename …',
            run: () =>
              show(close => (
                <TextDialog
                  title="Rename the grouping"
                  label="Name"
                  most={200}
                  text={grouping.name}
                  onClose={close}
                  onSave={name =>
                    void act(async () => {
                      const { actId } = await call(changeGrouping, { ...one, name })
                      return { say: `The grouping is called "${name}"`, actId }
                    })
                  }
                />
              )),
          },
          {
            label: 'Leave pages of sites out …',
            run: () =>
              show(close => (
                <TextDialog
                  title="Leave pages of sites out"
                  label="Domains, with commas between"
                  help="Pages of these sites do not count as shared; empty: all count"
                  most={4_000}
                  optional
                  text={grouping.leftOut.join(', ')}
                  onClose={close}
                  onSave={text =>
                    void act(async () => {
                      const leftOut = text
                        .toLowerCase()
                        .split(/[\s,;]+/)
                        .filter(Boolean)
                      const { actId } = await call(changeGrouping, { ...one, leftOut })
                      const say = leftOut.length
                        ? 'Left out. Choose shared pages to group without them.'
                        : 'All pages count again'
                      return { say, actId }
                    })
                  }
                />
              )),
          },
          {
            label: 'Fetch missing results and group again',
            run: running ? undefined : () => void again(0, 'Fetching what is missing; the foot shows how far it is'),
          },
          {
            label: 'Fetch results older than 30 days, and group again',
            run: running ? undefined : () => void again(30, 'Fetching what is old; the foot shows how far it is'),
          },
          {
            label: 'Remove',
            run: () =>
              void act(async () => {
                const { actId } = await call(removeGrouping, one)
                change(setParam('grouping', null))
                return { say: `"${grouping.name}" removed`, actId }
              }),
          },
        ]}
      />
      <TabBar tabs={tabs} see={see} forget={['threshold', 'method']} />
    </div>
  )
}
