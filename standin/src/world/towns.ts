import { Stream, textHash } from '../random.ts'
import { nameOf, personOf } from './names.ts'
import { cities, metresBetween, type Place } from './vocabulary.ts'
import type { World } from './world.ts'

export type Business = {
  id: number
  name: string
  category:
    | 'pottery studio'
    | 'craft school'
    | 'paint café'
    | 'ceramics shop'
    | 'art supplies'
    | 'kiln service'
    | 'gallery'
  position: [number, number]
  street: string
  phone: string
  rating: number
  reviews: number
  opened: number
  /** Pictures that visitors took there. */
  photos: number
  hours: string | null
  site?: number
  /** Why the listing is not what it says, for the few that are not. */
  doubt?: Doubt
  /** What it shares with false listings without being one. */
  alike?: 'chain' | 'shared building' | 'plain name'
}
export type Doubt = 'stuffed name' | 'same phone as another' | 'no such premises' | 'one owner in many places'
export type Street = { name: string; class: 'main' | 'side'; line: Array<[number, number]> }
export type Town = { place: Place; streets: Street[]; coast: Array<[number, number]>; sea: Array<[number, number]> }

/** Point at metres east and north of another. */
const shifted = ([latitude, longitude]: readonly [number, number], east: number, north: number): [number, number] => [
  latitude + north / 111_195,
  longitude + east / (111_195 * Math.cos((latitude / 180) * Math.PI)),
]
const rounded = ([latitude, longitude]: [number, number]): [number, number] => [
  Math.round(latitude * 1e6) / 1e6,
  Math.round(longitude * 1e6) / 1e6,
]

/** Angle towards the sea and metres from the centre to the shore; the sea covers everything beyond. */
const shoreOf = (seed: number, place: Place): { angle: number; metres: number } => {
  const stream = new Stream(seed, textHash(place.code), 201)
  return { angle: stream.next() * 2 * Math.PI, metres: 900 + 900 * stream.next() }
}
const bay = (along: number, seed: number): number =>
  260 * Math.sin(along / 900 + (seed % 7)) + 120 * Math.sin(along / 310 + (seed % 11))

/** Whether a point, given as metres east and north of the centre, lies on land. */
function onLand(seed: number, place: Place, east: number, north: number): boolean {
  const { angle, metres } = shoreOf(seed, place)
  const out = east * Math.cos(angle) + north * Math.sin(angle)
  const along = -east * Math.sin(angle) + north * Math.cos(angle)
  return out < metres + bay(along, seed)
}

const townsKept = new WeakMap<World, Map<string, Town>>()
/** Streets, coast and sea of a city, made from the seed. */
export function townOf(world: World, code: string): Town | undefined {
  let known = townsKept.get(world)
  if (!known) townsKept.set(world, (known = new Map()))
  const ready = known.get(code)
  const place = cities.find(city => city.code === code)
  if (ready || !place) return ready
  const { seed } = world
  const stream = new Stream(seed, textHash(code), 202)
  const { angle, metres } = shoreOf(seed, place)
  const at = (out: number, along: number): [number, number] =>
    rounded(
      shifted(
        place.centre,
        out * Math.cos(angle) - along * Math.sin(angle),
        out * Math.sin(angle) + along * Math.cos(angle),
      ),
    )
  const coast: Array<[number, number]> = []
  for (let along = -6_000; along <= 6_000; along += 150) coast.push(at(metres + bay(along, seed), along))
  const sea = [...coast, at(9_000, 6_000), at(9_000, -6_000), coast[0]!]
  const streets: Street[] = []
  const lay = (name: string, kind: Street['class'], points: Array<[number, number]>): void => {
    const line: Array<[number, number]> = []
    for (const [east, north] of points) {
      if (!onLand(seed, place, east, north)) break
      line.push(rounded(shifted(place.centre, east, north)))
    }
    if (line.length > 1) streets.push({ name, class: kind, line })
  }
  const kinds = ['Road', 'Street', 'Lane', 'Row', 'Way']
  const spokes = 7 + stream.int(3)
  for (let i = 0; i < spokes; i++) {
    const heading = (i / spokes) * 2 * Math.PI + 0.25 * stream.next()
    const bend = (stream.next() - 0.5) * 0.5
    lay(
      `${nameOf('village', 1 + stream.int(90))} Road`,
      'main',
      Array.from({ length: 14 }, (_, k) => {
        const turn = heading + (bend * k) / 13
        return [Math.cos(turn) * 300 * k, Math.sin(turn) * 300 * k] as [number, number]
      }),
    )
  }
  for (let ring = 1; ring <= 5; ring++)
    for (let part = 0; part < 6; part++)
      lay(
        `${nameOf('family', 1 + stream.int(200))} ${stream.pick(kinds)}`,
        ring % 2 ? 'side' : 'main',
        Array.from({ length: 9 }, (_, k) => {
          const turn = ((part + k / 8) / 6) * 2 * Math.PI
          const radius = ring * 620 * (1 + 0.06 * Math.sin(3 * turn + ring))
          return [Math.cos(turn) * radius, Math.sin(turn) * radius] as [number, number]
        }),
      )
  for (let i = 0; i < 90; i++) {
    const east = (stream.next() - 0.5) * 5_600
    const north = (stream.next() - 0.5) * 5_600
    const heading = Math.atan2(north, east) + (stream.chance(0.5) ? Math.PI / 2 : 0)
    const length = 120 + stream.int(330)
    lay(`${nameOf('family', 1 + stream.int(400))} ${stream.pick(kinds)}`, 'side', [
      [east, north],
      [east + Math.cos(heading) * length, north + Math.sin(heading) * length],
    ])
  }
  const town = { place, streets, coast, sea }
  known.set(code, town)
  return town
}

const businessesKept = new WeakMap<World, Map<string, Business[]>>()
/** Businesses of a city that have to do with pottery; those with a site of the world among them. */
export function businessesOf(world: World, code: string): Business[] {
  let known = businessesKept.get(world)
  if (!known) businessesKept.set(world, (known = new Map()))
  const ready = known.get(code)
  if (ready) return ready
  const town = townOf(world, code)
  if (!town) return []
  const { place, streets } = town
  const { seed } = world
  const cityIndex = cities.indexOf(place)
  const stream = new Stream(seed, textHash(code), 203)
  const list: Business[] = []
  const add = (name: string, category: Business['category'], site?: number): Business => {
    // On a street, the nearer to the centre the likelier.
    let position = place.centre
    let street = streets[0]!
    for (let tries = 0; tries < 30; tries++) {
      street = stream.pick(streets)
      const point = stream.pick(street.line)
      position = rounded(shifted(point, (stream.next() - 0.5) * 60, (stream.next() - 0.5) * 60))
      if (stream.next() < Math.exp(-metresBetween(place.centre, position) / 1_800)) break
    }
    const business: Business = {
      id: cityIndex * 1_000 + list.length,
      name,
      category,
      position,
      street: `${1 + stream.int(160)} ${street.name}`,
      phone: `+990 ${300 + cityIndex} ${1000 + stream.int(9000)}`,
      rating: Math.round((3.4 + 1.5 * stream.next() ** 0.6) * 10) / 10,
      reviews: Math.floor(Math.exp(stream.next() * 6)),
      opened: Math.floor(Date.UTC(2012, 0, 1) / 86_400_000 + stream.next() * 5_000),
      photos: 0,
      hours: stream.chance(0.85)
        ? stream.pick(['Mon–Sat 9:00–18:00', 'Tue–Sun 10:00–19:00', 'Mon–Fri 8:30–17:30'])
        : null,
      ...(site === undefined ? {} : { site }),
    }
    business.photos = Math.round(business.reviews * (0.2 + 0.5 * stream.next()))
    list.push(business)
    return business
  }
  if (['port-hallow', 'wexmere', 'lindle'].includes(code))
    add(`Kiln & Tide ${place.name}`, 'pottery studio', world.own.id)
  for (const site of world.sites)
    if (site.city === code && site.kind !== 'own' && list.length < 60)
      add(
        site.name,
        site.kind === 'studio' ? 'pottery studio' : site.kind === 'school' ? 'craft school' : 'ceramics shop',
        site.id,
      )
  for (const domain of ['clayharbour.example', 'mudandfire.example', 'glazeworks.example']) {
    const site = world.byDomain.get(domain)
    if (site && place.language === 'en' && stream.chance(0.5))
      add(
        `${site.name} ${place.name}`,
        stream.pick(['art supplies', 'pottery studio', 'kiln service'] as const),
        site.id,
      )
  }
  const categories: Business['category'][] = [
    'pottery studio',
    'craft school',
    'paint café',
    'ceramics shop',
    'art supplies',
    'kiln service',
    'gallery',
  ]
  const wanted = list.length + 16 + Math.round(120 * place.share)
  while (list.length < wanted) {
    const category = stream.pick(categories)
    const maker = stream.chance(0.5) ? nameOf('family', 1 + stream.int(300)) : personOf(stream)
    add(`${maker} ${category.replace(/^\p{L}/u, letter => letter.toUpperCase())}`, category)
  }
  addAlike(world, place, stream, list, add)
  addFalse(world, place, stream, streets, list, add)
  known.set(code, list)
  return list
}

type Add = (name: string, category: Business['category'], site?: number) => Business
/** Listings that look odd and are not: branches of a chain, neighbours in one building, a school that is called what it does. */
function addAlike(world: World, place: Place, stream: Stream, list: Business[], add: Add): void {
  const chain = world.byDomain.get('glazeworks.example')
  if (chain && place.language === 'en' && stream.chance(0.7)) {
    const phone = '+990 300 9000'
    for (const part of ['North', 'Harbour'].slice(0, 1 + stream.int(2)))
      Object.assign(add(`Glazeworks ${part}`, 'kiln service', chain.id), { phone, alike: 'chain' })
  }
  for (let i = 0; i < 1 + stream.int(2); i++) {
    const host = list[stream.int(Math.min(12, list.length))]!
    const neighbour = add(
      `${nameOf('family', 1 + stream.int(300))} ${i ? 'Gallery' : 'Craft School'}`,
      i ? 'gallery' : 'craft school',
    )
    Object.assign(neighbour, {
      position: rounded(shifted(host.position, 4, 3)),
      street: host.street,
      alike: 'shared building',
    })
  }
  const plain = add(
    place.language === 'de' ? `Töpferschule ${place.name}` : `${place.name} Pottery School`,
    'craft school',
  )
  Object.assign(plain, { alike: 'plain name', reviews: 20 + stream.int(90), photos: 15 + stream.int(40) })
}

/** Listings that are not what they say, with what gives them away: not all of it each time. */
function addFalse(world: World, place: Place, stream: Stream, streets: Street[], list: Business[], add: Add): void {
  const real = list.length
  const family = (): string => nameOf('family', 1 + stream.int(300))
  const stuffed =
    place.language === 'de'
      ? [
          `Töpferkurs ${place.name} günstig Keramik Workshop in der Nähe`,
          `Bester Töpferkurs ${place.name} Keramik kaufen`,
        ]
      : [
          `Best pottery class ${place.name} cheap pottery workshop near me`,
          `Pottery classes ${place.name} kiln hire clay shop ${place.name}`,
        ]
  const late = (days: number): number => world.today - 20 - stream.int(days)
  for (const name of stuffed.slice(0, 1 + stream.int(2)))
    Object.assign(add(name, 'pottery studio'), { doubt: 'stuffed name', photos: stream.int(4), hours: null })
  for (let i = 0; i < 1 + stream.int(2); i++) {
    const like = list[stream.int(real)]!
    Object.assign(add(`${family()} Pottery`, 'pottery studio'), {
      doubt: 'same phone as another',
      phone: like.phone,
      position: rounded(shifted(like.position, 12, 9)),
      street: like.street,
      photos: stream.int(3),
    })
  }
  for (let i = 0; i < 1 + stream.int(2); i++) {
    const listing = add(`${family()} Pottery`, 'pottery studio')
    const away = streets.filter(each => each.line.every(point => metresBetween(point, listing.position) > 700))
    Object.assign(listing, {
      doubt: 'no such premises',
      opened: late(120),
      reviews: 180 + stream.int(200),
      photos: stream.int(2),
      hours: stream.chance(0.3) ? 'Mon–Sun 0:00–24:00' : null,
      ...(away.length && stream.chance(0.8) ? { street: `${1 + stream.int(160)} ${stream.pick(away).name}` } : {}),
    })
  }
  if (!stream.chance(0.6)) return
  const [name, phone] = [`${place.name} Clay Time`, `+990 399 ${1000 + stream.int(9000)}`]
  const site = world.sites.find(each => each.kind === 'network')
  for (let i = 0; i < 3 + stream.int(2); i++)
    Object.assign(add(i ? `${name} ${i + 1}` : name, 'pottery studio', stream.chance(0.5) ? site?.id : undefined), {
      doubt: 'one owner in many places',
      phone,
      opened: late(60),
      reviews: stream.int(30),
      photos: 0,
    })
}
