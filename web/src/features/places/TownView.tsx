import type { TownMap } from '@dew-trail/contract/places'
import { type Coordinates, placeAt } from '@dew-trail/core/places/grid-points'
import { hexagons, type RankClass } from '@dew-trail/core/places/hexagons'
import L from 'leaflet'
import 'leaflet/dist/leaflet.css'
import { type KeyboardEvent, useEffect, useMemo, useRef, useState } from 'react'
import { createPortal } from 'react-dom'
import { pointWords } from './use-place.ts'

/** What stands in a hexagon, and what it says to who cannot see it. */
export type Cell = { text: string; of: RankClass | 'better' | 'worse' | 'same'; says: string }
export type Mark = Coordinates & { name: string; own: boolean }
type Props = {
  label: string
  map: TownMap | undefined
  centre: Coordinates
  size: number
  spacing: number
  cells: readonly Cell[]
  marks: readonly Mark[]
  /** The point that is looked at. */
  chosen?: number | null
  onChoose?(at: number | null): void
  /** Keys on a point besides those that move. */
  onKey?(key: string, at: number): void
  /** A place on the map was pressed, beside all points. */
  onPlace?(place: Coordinates): void
}

const latLng = ({ latitude, longitude }: Coordinates): L.LatLngTuple => [latitude, longitude]
/** Corners of the square that a grid's hexagons fill. */
function boundsOf({ centre, size, spacing }: Pick<Props, 'centre' | 'size' | 'spacing'>): L.LatLngBounds {
  const reach = (size / 2 + 0.2) * spacing
  return L.latLngBounds(latLng(placeAt(centre, -reach, -reach)), latLng(placeAt(centre, reach, reach)))
}

/** Shows a square as large as it fits; while the map has no room yet, only where it is. */
function fit(map: L.Map, square: L.LatLngBounds): void {
  const { x, y } = map.getSize()
  if (x > 20 && y > 20) map.fitBounds(square, { animate: false, padding: [4, 4] })
  else map.setView(square.getCenter(), 14, { animate: false })
}

/** A town with the points of a grid as hexagons: streets and coast from the town's own map, nothing from outside. */
export function TownView(props: Props) {
  const { label, map: town, centre, size, spacing, marks, onPlace } = props
  const box = useRef<HTMLDivElement>(null)
  const [map, setMap] = useState<L.Map | null>(null)
  const [svg, setSvg] = useState<SVGSVGElement | null>(null)
  const bounds = useRef<L.LatLngBounds | null>(null)
  const moved = useRef(false)
  useEffect(() => {
    const made = L.map(box.current!, {
      attributionControl: false,
      zoomSnap: 0.25,
      keyboard: false,
      zoomAnimation: false,
      fadeAnimation: false,
    })
    // Below the points, whatever comes first.
    made.createPane('town').style.zIndex = '300'
    L.control.scale({ imperial: false }).addTo(made)
    setMap(made)
    made.on('dragend', () => {
      moved.current = true
    })
    const watch = new ResizeObserver(() => {
      made.invalidateSize()
      // Who has moved the map keeps what they look at.
      if (bounds.current && !moved.current) fit(made, bounds.current)
    })
    watch.observe(box.current!)
    return () => {
      watch.disconnect()
      made.remove()
    }
  }, [])
  // A grid of the same extent keeps the view that somebody chose.
  const extent = `${centre.latitude} ${centre.longitude} ${size} ${spacing}`
  useEffect(() => {
    if (!map) return
    const [latitude, longitude, side, step] = extent.split(' ').map(Number) as [number, number, number, number]
    const square = boundsOf({ centre: { latitude, longitude }, size: side, spacing: step })
    bounds.current = square
    moved.current = false
    fit(map, square)
    const element = document.createElementNS('http://www.w3.org/2000/svg', 'svg')
    element.setAttribute('viewBox', `-0.7 -0.7 ${side + 0.4} ${side + 0.4}`)
    element.setAttribute('preserveAspectRatio', 'none')
    const overlay = L.svgOverlay(element, square, { interactive: true, zIndex: 5 }).addTo(map)
    setSvg(element)
    return () => {
      overlay.remove()
    }
  }, [map, extent])
  useEffect(() => {
    if (!map || !town) return
    const layers = L.layerGroup([
      ...town.sea.map(ring =>
        L.polygon(ring, { pane: 'town', className: 'town-sea', stroke: false, interactive: false }),
      ),
      ...town.lines.map(({ kind, line }) =>
        L.polyline(line, { pane: 'town', className: `town-${kind}`, interactive: false }),
      ),
    ]).addTo(map)
    return () => {
      layers.remove()
    }
  }, [map, town])
  useEffect(() => {
    if (!map) return
    const layers = L.layerGroup(
      marks.map(mark =>
        L.circleMarker(latLng(mark), {
          radius: 12,
          className: mark.own ? 'town-own' : 'town-other',
          pane: 'markerPane',
        }).bindTooltip(mark.name),
      ),
    ).addTo(map)
    return () => {
      layers.remove()
    }
  }, [map, marks])
  const press = useRef(onPlace)
  press.current = onPlace
  useEffect(() => {
    map?.on('click', ({ latlng }) => press.current?.({ latitude: latlng.lat, longitude: latlng.lng }))
  }, [map])
  return (
    <section aria-label={label} style={{ position: 'relative', minHeight: 0, minWidth: 0 }}>
      <div ref={box} className="town-map" />
      {svg && createPortal(<Points {...props} />, svg)}
    </section>
  )
}

/** The hexagons: one of them is in the tab order, arrows lead to its neighbours. */
function Points({ size, cells, chosen = null, onChoose, onKey }: Props) {
  const [active, setActive] = useState(Math.floor((size * size) / 2))
  const shapes = useMemo(() => hexagons(size), [size])
  const group = useRef<SVGGElement>(null)
  const focus = (at: number) => {
    setActive(at)
    group.current?.querySelectorAll<SVGGElement>('g')[at]?.focus()
  }
  const onKeyDown = (event: KeyboardEvent, at: number) => {
    if (event.ctrlKey || event.metaKey || event.altKey) return
    const [x, y] = [at % size, Math.floor(at / size)]
    const to = { ArrowLeft: [x - 1, y], ArrowRight: [x + 1, y], ArrowUp: [x, y - 1], ArrowDown: [x, y + 1] }[event.key]
    if (to) {
      event.preventDefault()
      event.stopPropagation()
      const [toX, toY] = to as [number, number]
      if (toX >= 0 && toY >= 0 && toX < size && toY < size) focus(toY * size + toX)
    } else if (event.key === 'Enter' || event.key === ' ') {
      event.preventDefault()
      event.stopPropagation()
      onChoose?.(chosen === at ? null : at)
    } else onKey?.(event.key, at)
  }
  return (
    <g ref={group}>
      {shapes.map(({ at, x, y, corners }) => {
        const cell = cells[at]
        if (!cell) return null
        return (
          <g
            key={at}
            role="button"
            className={`hex hex-${cell.of}${chosen === at ? ' chosen' : ''}`}
            tabIndex={onChoose && at === active ? 0 : -1}
            aria-label={`${pointWords({ size }, at)}: ${cell.says}`}
            aria-pressed={chosen === at}
            onClick={event => {
              if (!onChoose) return
              event.stopPropagation()
              focus(at)
              onChoose(chosen === at ? null : at)
            }}
            onKeyDown={event => onKeyDown(event, at)}
          >
            <polygon points={corners} />
            <text x={x} y={y} dy=".35em" fontSize={Math.min(0.42, 1 / Math.max(2.2, cell.text.length))}>
              {cell.text}
            </text>
          </g>
        )
      })}
    </g>
  )
}
