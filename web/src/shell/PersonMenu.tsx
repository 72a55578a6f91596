import { signOut } from '@dew-trail/contract/people'
import { MenuItem } from '@mui/material'
import { UserRound } from 'lucide-react'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { call } from '../api/call.ts'
import { Menu } from '../ui/floating-later.tsx'
import { useSite } from '../ui/site-context.ts'
import { useAct } from '../ui/use-act.ts'
import { useMe } from '../ui/use-me.ts'

const ways: ReadonlyArray<[label: string, see: string | null]> = [
  ['People', null],
  ['Access keys', 'keys'],
  ['Web hooks', 'hooks'],
  ['What was done', 'done'],
]

/** Who uses the program, what they may do here, and the way to people, keys and out. */
export function PersonMenu() {
  const { site, market } = useSite()
  const me = useMe()
  const act = useAct()
  const navigate = useNavigate()
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const go = (query: string) => {
    setAnchor(null)
    navigate(`/${site.id}/people?market=${market.id}${query}`)
  }
  const name = me?.person?.name ?? null
  return (
    <>
      {me?.signIn === 'done' && !me.isOwner && (
        <small className="shell-role" title="An owner of the site can change this">
          {me.role === 'reader' ? 'you may read this site' : 'you are an editor here'}
        </small>
      )}
      <button
        type="button"
        aria-haspopup="menu"
        aria-label={name ? `${name}: account, people, keys` : 'People, keys and web hooks'}
        title={name ?? 'People, keys and web hooks'}
        onClick={event => setAnchor(event.currentTarget)}
      >
        <UserRound size={15} />
      </button>
      <Menu open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
        {name && <MenuItem onClick={() => go('&see=you')}>Your account</MenuItem>}
        {ways.map(([label, see]) => (
          <MenuItem key={label} onClick={() => go(see ? `&see=${see}` : '')}>
            {label}
          </MenuItem>
        ))}
        <MenuItem component="a" href="/api/docs/" target="_blank" onClick={() => setAnchor(null)}>
          The program's own API
        </MenuItem>
        {name && (
          <MenuItem
            onClick={() =>
              void act(async () => {
                await call(signOut, {})
                window.location.assign('/')
              })
            }
          >
            Sign out
          </MenuItem>
        )}
      </Menu>
    </>
  )
}
