import type { PlaceGrid, TownMap } from '@dew-trail/contract/places'
import { gridPicture } from '@dew-trail/core/places/grid-picture'
import { rankClassOf, rankText } from '@dew-trail/core/places/hexagons'
import { pointsGeoJson } from '@dew-trail/core/places/points-geojson'
import type { PointRank } from '@dew-trail/core/places/rank-figures'
import { drawingOf } from '../../report-pieces/read-drawing.ts'
import { useShownPicture } from '../../report-pieces/shown-pieces.ts'
import { download } from '../../ui/download.ts'
import { formatDay } from '../../ui/format.ts'
import { MoreMenu } from '../../ui/MoreMenu.tsx'
import { showToast } from '../../ui/toast-queue.ts'
import { legendOf } from './cells.ts'
import type { Mark } from './TownView.tsx'
import { pointsOf, type Results } from './use-place.ts'

type Props = {
  grid: PlaceGrid
  results: Results
  ranks: readonly PointRank[]
  sentence: string
  name: string
  town: TownMap | undefined
  marks: readonly Mark[]
}
/** Takes the picture or its points away: as a picture, printed, or as points that a map program reads. */
export function SaveMap({ grid, results, ranks, sentence, name, town, marks }: Props) {
  const out = new Set(results.leftOut)
  const title = `${name}, “${results.keyword}”, ${grid.townName}, ${formatDay(results.day)}`
  const file = `positions-${grid.town}-${results.day}`
  const picture = () =>
    gridPicture({
      title,
      sentence,
      centre: grid,
      size: grid.size,
      spacing: grid.spacing,
      cells: ranks.map((rank, at) => ({
        text: rankText(rank, grid.depth, out.has(at)),
        of: rankClassOf(rank, out.has(at)),
      })),
      lines: town?.lines ?? [],
      sea: town?.sea ?? [],
      marks,
      legend: legendOf(grid.depth),
    })
  useShownPicture({ title, sentence, draw: () => drawingOf(picture()) })
  const geoJson = () => {
    const names = new Map(results.businesses.map(each => [each.number, each.name]))
    const points = pointsOf(grid).map((point, at) => ({
      point,
      state: out.has(at) ? 'left out' : ranks[at] === null ? 'not checked' : ranks[at] ? 'found' : 'not found',
      position: ranks[at] || null,
      first: (results.points[at] ?? []).slice(0, 3).map(number => names.get(number)!),
    }))
    const about = { keyword: results.keyword, business: name, day: results.day, depth: grid.depth }
    return new Blob([JSON.stringify(pointsGeoJson(points, about))], { type: 'application/geo+json' })
  }
  const fail = (error: unknown) => showToast({ words: (error as Error).message, wrong: true, forMs: 9_000 })
  return (
    <>
      <button type="button" className="link" onClick={() => printPicture(title, picture())}>
        Print
      </button>
      <MoreMenu
        items={[
          { label: 'Save as PNG', run: () => void toPng(picture()).then(blob => download(blob, `${file}.png`), fail) },
          {
            label: 'Save as SVG',
            run: () => download(new Blob([picture()], { type: 'image/svg+xml' }), `${file}.svg`),
          },
          { label: 'Save points as GeoJSON', run: () => download(geoJson(), `${file}.geojson`) },
        ]}
      />
    </>
  )
}

/** A drawing as a picture of twice its size, for screens and slides. */
async function toPng(svg: string): Promise<Blob> {
  const image = new Image()
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svg)}`
  await image.decode()
  const canvas = document.createElement('canvas')
  canvas.width = image.width * 2
  canvas.height = image.height * 2
  canvas.getContext('2d')!.drawImage(image, 0, 0, canvas.width, canvas.height)
  return new Promise((done, fail) =>
    canvas.toBlob(
      blob => (blob ? done(blob) : fail(new Error('The browser could not make a picture of it'))),
      'image/png',
    ),
  )
}

/** Prints a drawing alone, in a frame that goes when it is printed. */
function printPicture(title: string, svg: string): void {
  const frame = document.createElement('iframe')
  frame.style.cssText = 'position:fixed;width:0;height:0;border:0'
  document.body.append(frame)
  const page = frame.contentDocument!
  page.title = title
  page.body.append(page.importNode(new DOMParser().parseFromString(svg, 'image/svg+xml').documentElement, true))
  frame.contentWindow!.addEventListener('afterprint', () => frame.remove())
  frame.contentWindow!.print()
}
