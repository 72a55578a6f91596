import { Button } from '@mui/material'

/** What stands in place of the positions before any keyword is tracked. */
export function NothingWatched({ onSetUp }: { onSetUp(): void }) {
  return (
    <>
      <h2>Nothing is watched yet</h2>
      <p>
        Take keywords from the query log, the plan, themes, a rival or pasted lines, and choose the markets they are
        checked in; or send them here from Gather, Weigh and Plan with T; or import positions that you already have.
      </p>
      <Button variant="contained" onClick={onSetUp}>
        Track keywords
      </Button>
    </>
  )
}
