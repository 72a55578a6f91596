/** A place on the globe in degrees (WGS 84). */
export type Coordinates = { latitude: number; longitude: number }
/** A point of a grid: metres east and north of the centre, and where that is. */
export type GridPoint = Coordinates & { east: number; north: number }

/** Sides of a grid: odd, so that its centre is a point of it. */
export const gridSizes = [3, 5, 7, 9, 11, 13, 15, 17, 19, 21] as const

/** Radius of the equator in metres and squared eccentricity of the WGS 84 ellipsoid. */
const equatorMetres = 6_378_137
const eccentricity = 6.694_379_990_14e-3
const radians = Math.PI / 180

/** Metres of a degree to the north and to the east at a latitude, on the WGS 84 ellipsoid. */
export function metresOfDegree(latitude: number): { north: number; east: number } {
  const flat = 1 - eccentricity * Math.sin(latitude * radians) ** 2
  return {
    north: (radians * equatorMetres * (1 - eccentricity)) / flat ** 1.5,
    east: (radians * equatorMetres * Math.cos(latitude * radians)) / Math.sqrt(flat),
  }
}

/**
 * The `size` × `size` points around a centre, `spacing` metres apart, row by row from the north-west: on the local tangent, which is exact to a
 * few centimetres over the 40 km that a grid can be wide. Throws RangeError where a point would lie beyond a pole.
 */
export function gridPoints(centre: Coordinates, size: number, spacing: number): GridPoint[] {
  const degree = metresOfDegree(centre.latitude)
  const half = (size - 1) / 2
  if (Math.abs(centre.latitude) + (half * spacing) / degree.north > 89)
    throw new RangeError('the grid reaches a pole, where east and west end')
  return Array.from({ length: size * size }, (_, at) => {
    const east = ((at % size) - half) * spacing
    const north = (half - Math.floor(at / size)) * spacing
    return { east, north, ...placeAt(centre, east, north) }
  })
}
/** The place some metres east and north of another. */
export function placeAt(centre: Coordinates, east: number, north: number): Coordinates {
  const degree = metresOfDegree(centre.latitude)
  const longitude = centre.longitude + east / degree.east
  return {
    latitude: rounded(centre.latitude + north / degree.north),
    longitude: rounded(((((longitude + 180) % 360) + 360) % 360) - 180),
  }
}
/** To a tenth of a metre. */
const rounded = (degrees: number): number => Math.round(degrees * 1e6) / 1e6

/** Metres east and north from one place to another that is near, on the local tangent of the first. */
export function offsetMetres(from: Coordinates, to: Coordinates): { east: number; north: number } {
  const degree = metresOfDegree((from.latitude + to.latitude) / 2)
  const turn = ((((to.longitude - from.longitude + 180) % 360) + 360) % 360) - 180
  return { east: turn * degree.east, north: (to.latitude - from.latitude) * degree.north }
}
export function distanceMetres(from: Coordinates, to: Coordinates): number {
  const { east, north } = offsetMetres(from, to)
  return Math.hypot(east, north)
}
