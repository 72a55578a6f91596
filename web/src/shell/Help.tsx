import { Dialog, DialogContent, DialogTitle } from '@mui/material'

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
  ['?', 'this list'],
]

export function Help({ onClose }: { onClose(): void }) {
  return (
    <Dialog open onClose={onClose} maxWidth="sm">
      <DialogTitle>Keyboard</DialogTitle>
      <DialogContent>
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
