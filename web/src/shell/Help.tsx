import glossary from '../../../docs/glossary.md?raw'
import { Dialog, DialogContent, DialogTitle } from '@mui/material'
import { useContext, useEffect, useState } from 'react'
import { Link, useLocation } from 'react-router'
import type { ScreenHelp } from '../feature.ts'
import { useSite } from '../ui/site-context.ts'
import { helpContext } from './registry.ts'
import { wordsOf } from './glossary-words.ts'

const keys: Array<[string, string]> = [
  ['J  K  or arrows', 'next, previous row'],
  ['Page Up, Page Down, Home, End', 'a screen, the first, the last row'],
  ['Enter, →, ←', 'unfold and fold a row'],
  ['X', 'select; with Shift a range'],
  ['Ctrl A', 'select all that is shown'],
  ['Escape', 'select nothing'],
  ['Y  N', 'keep, let go'],
  ['G', 'gather from this keyword'],
  ['W', 'weigh'],
  ['P', 'put on a page plan'],
  ['T', 'send to tracking'],
  ['L', 'put on a list or label'],
  ['F', 'ask the ads data for figures'],
  ['V', 'show the forms folded under a keyword; in Links: read the linking page now'],
  ['I', 'how the figures of the row come about'],
  ['1 to 9', 'in Rivals and Links: look at one of the compared sites'],
  ['arrows, Enter, O', 'on a town map: from point to point, the list there, leave the point out'],
  ['M', 'in Strongholds: show on the map'],
  ['Alt with an arrow', 'move a page of the site map, work on the board, a section of a report'],
  ['/', 'to the conditions'],
  ['Ctrl Z', 'undo the last thing done'],
  ['Ctrl K', 'go anywhere'],
  ['?', 'this help'],
]

/** The help of the screen at an address below the site: of the longest path that it begins with. */
export const helpAt = (all: readonly ScreenHelp[], path: string): ScreenHelp | undefined =>
  all
    .filter(each => path === each.path || path.startsWith(`${each.path}/`))
    .sort((a, b) => b.path.length - a.path.length)[0]

/** What the screen is for and what its parts show, our own words, and the keys. */
export function Help({ onClose }: { onClose(): void }) {
  const { site, market } = useSite()
  const { pathname, search } = useLocation()
  const load = useContext(helpContext)
  const [all, setAll] = useState<readonly ScreenHelp[]>([])
  useEffect(() => {
    let current = true
    void load().then(each => current && setAll(each))
    return () => {
      current = false
    }
  }, [load])
  const path = pathname.split('/').slice(2).join('/') || 'gather'
  const help = helpAt(all, path)
  const see = new URLSearchParams(search).get('see') ?? Object.keys(help?.tabs ?? {})[0]
  const to = (part: string) => `/${site.id}/${help!.path}?see=${part}&market=${market.id}`
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth>
      <DialogTitle>{help?.title ?? 'Help'}</DialogTitle>
      <DialogContent className="help">
        {help?.says.map(text => (
          <p key={text}>{text}</p>
        ))}
        {help?.parts && (
          <dl>
            {Object.entries(help.parts).map(([part, text]) => (
              <div key={part}>
                <dt>
                  <Link
                    className="link"
                    to={to(part)}
                    onClick={onClose}
                    aria-current={part === see ? 'page' : undefined}
                  >
                    {help.tabs?.[part] ?? part}
                  </Link>
                </dt>
                <dd>{text}</dd>
              </div>
            ))}
          </dl>
        )}
        <details>
          <summary>Words of this program</summary>
          <dl>
            {wordsOf(glossary).map(({ word, meaning }) => (
              <div key={word}>
                <dt>{word}</dt>
                <dd>{meaning}</dd>
              </div>
            ))}
          </dl>
        </details>
        <h3>Keyboard</h3>
        <table style={{ borderSpacing: '0 4px' }}>
          <tbody>
            {keys.map(([key, what]) => (
              <tr key={key}>
                <td style={{ paddingRight: 24, fontWeight: 540 }}>{key}</td>
                <td>{what}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </DialogContent>
    </Dialog>
  )
}
