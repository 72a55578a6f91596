import { type Coordinates, offsetMetres } from './grid-points.ts'
import { hexagons, type RankClass } from './hexagons.ts'
import { fileColours } from './map-colours.ts'

export type GridPicture = {
  title: string
  /** Read under the picture. */
  sentence: string
  centre: Coordinates
  size: number
  spacing: number
  cells: ReadonlyArray<{ text: string; of: RankClass }>
  /** Lines of the town, pairs of latitude and longitude. */
  lines: ReadonlyArray<{ kind: 'coast' | 'main' | 'side'; line: ReadonlyArray<readonly [number, number]> }>
  sea: ReadonlyArray<ReadonlyArray<readonly [number, number]>>
  /** Businesses that are marked. */
  marks: ReadonlyArray<Coordinates & { name: string; own: boolean }>
  /** What the classes of the picture mean, in their order. */
  legend: ReadonlyArray<{ of: RankClass; text: string }>
}

const [side, margin, headHeight, footHeight] = [760, 20, 46, 64]
const escaped = (text: string): string =>
  text.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;').replace(/"/g, '&quot;')
const at = (value: number): string => String(Math.round(value * 10) / 10)

/** Positions over a town as an SVG document that stands alone: for files, prints and reports. O(points + points of lines). */
export function gridPicture(picture: GridPicture): string {
  const { centre, size, spacing, cells } = picture
  const unit = side / (size + 0.4)
  const edge = (unit * 1.4) / 2
  const place = ([latitude, longitude]: readonly [number, number]): string => {
    const { east, north } = offsetMetres(centre, { latitude, longitude })
    return `${at(edge + ((size - 1) / 2 + east / spacing) * unit)},${at(edge + ((size - 1) / 2 - north / spacing) * unit)}`
  }
  const width = { coast: 2, main: 3, side: 1.2 }
  const colour = { coast: '#93a19c', main: '#cfd9d5', side: '#dbe4e0' }
  const town = [
    ...picture.sea.map(ring => `<polygon points="${ring.map(place).join(' ')}" fill="#dfeaee"/>`),
    ...picture.lines.map(
      ({ kind, line }) =>
        `<polyline points="${line.map(place).join(' ')}" fill="none" stroke="${colour[kind]}" stroke-width="${width[kind]}"/>`,
    ),
  ]
  const points = hexagons(size).map(({ at: cell, x, y, corners }) => {
    const { text, of } = cells[cell]!
    const { fill, ink, line, dash } = fileColours[of]
    const fontSize = Math.min(0.42, 1 / Math.max(2, text.length))
    return `<g transform="translate(${at(edge)} ${at(edge)}) scale(${unit.toFixed(3)})"><polygon points="${corners}" fill="${fill}" fill-opacity=".88" stroke="${line}" stroke-width=".03"${dash ? ` stroke-dasharray="${dash}"` : ''}/><text x="${x}" y="${y}" dy=".35em" font-size="${fontSize.toFixed(2)}" text-anchor="middle" fill="${ink}">${escaped(text)}</text></g>`
  })
  const marks = picture.marks.map(mark => {
    const [x, y] = place([mark.latitude, mark.longitude]).split(',')
    return `<circle cx="${x}" cy="${y}" r="13" fill="none" stroke="${mark.own ? '#c4661f' : '#5f7f8f'}" stroke-width="4"><title>${escaped(mark.name)}</title></circle>`
  })
  const legend = picture.legend.map(({ of, text }, i) => {
    const { fill, line, dash } = fileColours[of]
    const x = margin + i * ((side - margin) / picture.legend.length)
    return `<rect x="${at(x)}" y="${headHeight + side + 36}" width="13" height="13" fill="${fill}" stroke="${line}"${dash ? ' stroke-dasharray="2 2"' : ''}/><text x="${at(x + 18)}" y="${headHeight + side + 47}" font-size="12" fill="#5b6b68">${escaped(text)}</text>`
  })
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${side + 2 * margin}" height="${side + headHeight + footHeight}" viewBox="0 0 ${side + 2 * margin} ${side + headHeight + footHeight}" font-family="'Hanken Grotesk Variable','Hanken Grotesk',sans-serif"><rect width="100%" height="100%" fill="#fff"/><text x="${margin}" y="30" font-size="17" font-weight="640" fill="#15241f">${escaped(picture.title)}</text><svg x="${margin}" y="${headHeight}" width="${side}" height="${side}" viewBox="0 0 ${side} ${side}"><rect width="100%" height="100%" fill="#f4f7f5"/>${town.join('')}${points.join('')}${marks.join('')}</svg><text x="${margin}" y="${headHeight + side + 22}" font-size="13" fill="#15241f">${escaped(picture.sentence)}</text>${legend.join('')}</svg>`
}
