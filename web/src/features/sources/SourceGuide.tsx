import { Button, Dialog, DialogActions, DialogContent, DialogTitle } from '@mui/material'

const rows: ReadonlyArray<[source: string, file: string, works: string, without: string]> = [
  [
    'Search engines',
    'a rank history (Import positions)',
    'Weigh, Group by results, Track, Rivals, Places',
    'Keywords can be grouped by words and planned by searches; nothing can be said of what ranks',
  ],
  [
    'Ads data',
    'a keyword list with searches and CPC (Import keywords)',
    'searches, CPC, seasons, advertisers, ideas; worth everywhere',
    'Searches come from the query log as lower bounds; worth needs your own worth of a visit (Site and markets)',
  ],
  ['Completions', 'a pasted list', 'Gather from seeds', 'Gather from ads data, files, the query log and rivals'],
  [
    'Query log',
    'an export of it (Import query log)',
    'own clicks and impressions, hidden demand, settable clicks by position, competing pages',
    'The shipped click shares are used',
  ],
  [
    'Link feeds',
    'link lists, a web graph, WARC archives',
    'standing and trust, link profiles, chances',
    'Our own crawler finds links of the sites you crawl; standings are then "at least"',
  ],
  [
    'Rankings feed',
    'none',
    'Rivals beyond your own keywords',
    'Rivals are known by the result pages fetched for your keywords',
  ],
  ['Registry', 'none', 'age of sites; free names', 'Ages are unknown and left out of strengths'],
  ['Town maps', 'none', 'Places', 'Places is empty'],
]

/** For the first real site: which sources to connect, which files stand in for them, and what works without. */
export default function SourceGuide({ onClose }: { onClose(): void }) {
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="lg">
      <DialogTitle>Which sources a site needs</DialogTitle>
      <DialogContent>
        <p className="quiet" style={{ marginTop: 0 }}>
          Nothing has to be connected to begin: files do for most of it. Each source is a service that speaks the
          protocol of docs/source-protocol.md, with an address in the configuration and a key that is typed on this
          screen.
        </p>
        <table className="results whole-cells guide">
          <thead>
            <tr>
              <th>Source</th>
              <th>A file instead</th>
              <th>What it brings</th>
              <th>Without it</th>
            </tr>
          </thead>
          <tbody>
            {rows.map(([source, file, works, without]) => (
              <tr key={source}>
                <td>
                  <b>{source}</b>
                </td>
                <td>{file}</td>
                <td>{works}</td>
                <td className="quiet">{without}</td>
              </tr>
            ))}
          </tbody>
        </table>
        <ol>
          <li>
            Add the site with the place and language its readers search in; add further markets under the site's name.
          </li>
          <li>
            Import what you have: keyword list, query log, rank history, links. Each file is shown before it is read.
          </li>
          <li>
            Connect the search engine, set the most requests a day, and press Try: one request tells whether the key
            fits.
          </li>
          <li>Crawl the own site and two rivals, so that pages, words and links are known.</li>
          <li>Gather, keep some fifty keywords, weigh them, learn strengths once (What ranks), then group and plan.</li>
        </ol>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  )
}
