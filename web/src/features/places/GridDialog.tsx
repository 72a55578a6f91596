import { createPlaceGrid, listTowns, readTown, startPlaceRun } from '@dew-trail/contract/places'
import { listEngines, listSources } from '@dew-trail/contract/sources'
import type { Coordinates } from '@dew-trail/core/places/grid-points'
import { gridSizes } from '@dew-trail/core/places/grid-points'
import {
  Autocomplete,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  MenuItem,
  TextField,
} from '@mui/material'
import { useMemo, useState } from 'react'
import { useNavigate } from 'react-router'
import { call } from '../../api/call.ts'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { formatWhole, plural } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'
import { useChange } from '../../ui/use-change.ts'
import { type Cell, TownView } from './TownView.tsx'

const mostKeywords = 10
/** "47.42, -28.61" as a place; null where it is none. */
function readCoordinates(text: string): Coordinates | null {
  const match = /^\s*(-?\d{1,2}(?:\.\d+)?)\s*[,; ]\s*(-?\d{1,3}(?:\.\d+)?)\s*$/.exec(text)
  if (!match) return null
  const [latitude, longitude] = [Number(match[1]), Number(match[2])]
  return Math.abs(latitude) <= 85 && Math.abs(longitude) <= 180 ? { latitude, longitude } : null
}
const asText = ({ latitude, longitude }: Coordinates): string => `${latitude.toFixed(5)}, ${longitude.toFixed(5)}`

/** Lays a grid over a town: whose positions, for which keywords, around which centre; the requests are said before the first run. */
export default function GridDialog({ onClose }: { onClose(): void }) {
  const { site, market } = useSite()
  const navigate = useNavigate()
  const act = useAct()
  const { run, pending } = useChange()
  const { data: towns, error: noTowns } = useEndpoint(listTowns, { siteId: site.id })
  const { data: engines } = useEndpoint(listEngines, {})
  const { data: sources } = useEndpoint(listSources, { siteId: site.id })
  const ordered = useMemo(
    () =>
      (towns ?? []).toSorted((a, b) => Number(b.language === market.language) - Number(a.language === market.language)),
    [towns, market.language],
  )
  const [townCode, setTown] = useState<string | null>(null)
  const town = ordered.find(each => each.code === townCode) ?? ordered[0]
  const { data: map, error: noMap } = useEndpoint(
    readTown,
    { siteId: site.id, town: town?.code ?? '-' },
    { enabled: town !== undefined },
  )
  const [picked, setPicked] = useState<string[] | null>(null)
  const listed = map?.businesses ?? []
  const own = listed.filter(each => each.own).slice(0, 1)
  const businesses = picked ? listed.filter(each => picked.includes(each.id)) : own
  const [words, setWords] = useState('')
  const [engine, setEngine] = useState(market.engine)
  const [size, setSize] = useState(7)
  const [spacing, setSpacing] = useState('400')
  const [typed, setTyped] = useState<string | null>(null)
  const usual: Coordinates | undefined = businesses[0] ?? town
  const centre = typed === null ? usual : readCoordinates(typed)
  const keywords = [
    ...new Set(
      words
        .split(/[\n,;]+/)
        .map(each => each.trim())
        .filter(Boolean),
    ),
  ]
  const step = Number(spacing)
  const isStep = Number.isInteger(step) && step >= 20 && step <= 5_000
  const requests = size * size * keywords.length
  const source = sources?.find(each => each.key === 'engines')
  const left = source?.mostADay == null ? null : source.mostADay - source.today.requests
  const cells = useMemo<Cell[]>(
    () => Array.from({ length: size * size }, () => ({ text: '', of: 'unchecked', says: 'to be asked' })),
    [size],
  )
  const marks = useMemo(
    () => businesses.map(({ name, latitude, longitude }) => ({ name, own: true, latitude, longitude })),
    [businesses],
  )
  const ready =
    town && centre && businesses.length > 0 && keywords.length > 0 && keywords.length <= mostKeywords && isStep
  const lay = () =>
    run(() =>
      act(async () => {
        if (!ready) return
        const { gridId } = await call(createPlaceGrid, {
          siteId: site.id,
          town: town.code,
          engine,
          language: town.language,
          keywords,
          businesses: businesses.map(each => each.id),
          ...{ latitude: centre.latitude, longitude: centre.longitude },
          size,
          spacing: step,
        })
        const begun = await call(startPlaceRun, { siteId: site.id, gridId })
        onClose()
        void navigate(`/${site.id}/places?grid=${gridId}`)
        return { say: `Asking at ${plural(begun.requests, 'point')}; the foot shows how far it is` }
      }),
    )
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="md">
      <DialogTitle>Lay a grid over a town</DialogTitle>
      <DialogContent
        sx={{ display: 'grid', gridTemplateColumns: '360px minmax(0, 1fr)', gap: 5, pt: '8px !important' }}
      >
        <div style={{ display: 'flex', flexDirection: 'column', gap: 14 }}>
          {(noTowns ?? noMap) && <p role="alert">{(noTowns ?? noMap)!.message}</p>}
          <TextField
            select
            label="Town"
            value={town?.code ?? ''}
            onChange={event => {
              setTown(event.target.value)
              setPicked(null)
              setTyped(null)
            }}
          >
            {ordered.map(each => (
              <MenuItem key={each.code} value={each.code}>
                {each.name}
              </MenuItem>
            ))}
          </TextField>
          <Autocomplete
            multiple
            size="small"
            options={listed}
            value={businesses}
            getOptionLabel={each => each.name}
            getOptionKey={each => each.id}
            isOptionEqualToValue={(a, b) => a.id === b.id}
            onChange={(_, chosen) => setPicked(chosen.slice(0, 10).map(each => each.id))}
            renderOption={({ key, ...props }, each) => (
              <li key={key} {...props}>
                <span>
                  {each.name} {each.own && <small className="own">your site</small>}
                  <br />
                  <small className="quiet">
                    {each.category}
                    {each.street ? `, ${each.street}` : ''}
                  </small>
                </span>
              </li>
            )}
            renderInput={props => (
              <TextField {...props} label="Business" helperText="Type to find it; several of one owner can be chosen" />
            )}
          />
          <TextField
            multiline
            minRows={2}
            maxRows={6}
            label="Keywords, one a line"
            value={words}
            onChange={event => setWords(event.target.value)}
            error={keywords.length > mostKeywords}
            helperText={
              keywords.length > mostKeywords ? `At most ${mostKeywords}` : 'As searchers in the town would type them'
            }
          />
          <div style={{ display: 'flex', gap: 12 }}>
            <TextField
              select
              label="Engine"
              value={engine}
              onChange={event => setEngine(event.target.value)}
              sx={{ flex: 1 }}
            >
              {(engines ?? [{ engine: market.engine, name: market.engine }]).map(each => (
                <MenuItem key={each.engine} value={each.engine}>
                  {each.name}
                </MenuItem>
              ))}
            </TextField>
            <TextField
              select
              label="Points"
              value={size}
              onChange={event => setSize(Number(event.target.value))}
              sx={{ flex: 1 }}
            >
              {gridSizes.map(each => (
                <MenuItem key={each} value={each}>
                  {each} × {each}
                </MenuItem>
              ))}
            </TextField>
            <TextField
              label="Metres apart"
              value={spacing}
              onChange={event => setSpacing(event.target.value)}
              error={!isStep}
              helperText={isStep ? undefined : '20 to 5,000'}
              sx={{ flex: 1 }}
              slotProps={{ htmlInput: { inputMode: 'numeric' } }}
            />
          </div>
          <TextField
            label="Centre"
            value={typed ?? (usual ? asText(usual) : '')}
            onChange={event => setTyped(event.target.value)}
            error={typed !== null && !centre}
            helperText={
              typed !== null && !centre
                ? 'Latitude and longitude, such as 47.42, -28.61'
                : 'The business; a press on the map or coordinates put it elsewhere'
            }
          />
          <p className="quiet" style={{ margin: 0 }} aria-live="polite">
            {keywords.length
              ? `A run asks the engine ${plural(requests, 'time')}: ${formatWhole(size * size)} points for ${plural(keywords.length, 'keyword')}.`
              : `A run asks the engine ${formatWhole(size * size)} times for each keyword.`}
            {left !== null && ` ${formatWhole(Math.max(0, left))} requests are left today by your limit.`}
            {left !== null && requests > left && ' The run stops there and goes on when its job is started again.'}
          </p>
        </div>
        <div style={{ height: 440, display: 'grid' }}>
          {centre && isStep && (
            <TownView
              label="Where the points lie"
              map={map?.map}
              centre={centre}
              size={size}
              spacing={step}
              cells={cells}
              marks={marks}
              onPlace={place => setTyped(asText(place))}
            />
          )}
        </div>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button variant="contained" disabled={!ready || pending} onClick={() => void lay()}>
          Lay it and run
        </Button>
      </DialogActions>
    </Dialog>
  )
}
