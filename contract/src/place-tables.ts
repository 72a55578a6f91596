import type { Batch } from '@dew-trail/core/tables/column-spec'
import type { TableColumn } from '@dew-trail/core/tables/table-column'
import { columnsOf, specsOf } from './table-batch.ts'
import type { DoubtfulListing } from './places.ts'

export const pointStates = ['found', 'not found', 'not checked', 'left out'] as const
/** A point of a run as a row. `position` null where it was not found or not checked: `state` says which. */
export type PlacePointRow = {
  id: number
  point: string
  state: (typeof pointStates)[number]
  position: number | null
  before: number | null
  change: number | null
  distance: number
  direction: string | null
  first: string | null
  second: string | null
  third: string | null
  latitude: number
  longitude: number
}
/** Columns of the points of a run. */
export const placePointTable = {
  point: { key: 'point', label: 'Point', kind: 'text', explain: 'Where in the grid it lies, from its centre' },
  state: {
    key: 'state',
    label: 'State',
    kind: 'code',
    explain: 'Whether the business was found among the results there',
  },
  position: {
    key: 'position',
    label: 'Position',
    kind: 'number',
    unit: 'position, 1 is first',
    explain: 'Position among the local results at the point',
  },
  before: {
    key: 'before',
    label: 'Before',
    kind: 'number',
    unit: 'position, 1 is first',
    explain: 'Position in the run beside',
  },
  change: {
    key: 'change',
    label: 'Change',
    kind: 'number',
    unit: 'positions, above 0 is better',
    explain: 'Positions won since the run beside; not found counts as one below the last result',
  },
  distance: {
    key: 'distance',
    label: 'Away',
    kind: 'number',
    unit: 'metres',
    explain: 'Metres from the business to the point',
  },
  direction: { key: 'direction', label: 'Direction', kind: 'code', explain: 'In which direction from the business' },
  first: { key: 'first', label: 'First', kind: 'code', explain: 'Who stands first there' },
  second: { key: 'second', label: 'Second', kind: 'code', explain: 'Who stands second there' },
  third: { key: 'third', label: 'Third', kind: 'code', explain: 'Who stands third there' },
  latitude: { key: 'latitude', label: 'Latitude', kind: 'number', unit: 'degrees', explain: 'WGS 84' },
  longitude: { key: 'longitude', label: 'Longitude', kind: 'number', unit: 'degrees', explain: 'WGS 84' },
} satisfies Record<string, TableColumn>
export const placePointSpecs = specsOf(placePointTable)
export const placePointBatch = (rows: readonly PlacePointRow[]): Batch => ({
  ids: rows.map(row => row.id),
  columns: columnsOf(rows, Object.keys(placePointTable) as Array<keyof typeof placePointTable>),
})

/** A business for a keyword in a run as a row. */
export type PlaceSumRow = {
  id: number
  day: string
  keyword: string
  business: string
  own: boolean
  mean: number
  change: number | null
  first3: number
  found: number
  checked: number
}
/** Columns of the figures of runs. */
export const placeSumTable = {
  keyword: { key: 'keyword', label: 'Keyword', kind: 'text', explain: 'What was searched for' },
  business: { key: 'business', label: 'Business', kind: 'code', explain: 'Whose positions' },
  own: { key: 'own', label: 'own', kind: 'flag', explain: 'One of your businesses' },
  day: { key: 'day', label: 'Run', kind: 'code', unit: 'day', explain: 'The day whose results were asked for' },
  mean: {
    key: 'mean',
    label: 'Mean position',
    kind: 'number',
    unit: 'position',
    explain: 'Mean over the checked points; not found counts as one below the last result',
  },
  change: {
    key: 'change',
    label: 'Change',
    kind: 'number',
    unit: 'positions, above 0 is better',
    explain: 'Mean positions won since the run before',
  },
  first3: {
    key: 'first3',
    label: 'Within 3',
    kind: 'number',
    unit: 'share, 0 to 1',
    explain: 'Share of the checked points at which it stands among the first three',
  },
  found: {
    key: 'found',
    label: 'Found',
    kind: 'number',
    unit: 'share, 0 to 1',
    explain: 'Share of the checked points at which it is found at all',
  },
  checked: { key: 'checked', label: 'Points', kind: 'number', unit: 'points', explain: 'Points that were checked' },
} satisfies Record<string, TableColumn>
export const placeSumSpecs = specsOf(placeSumTable)
export const placeSumBatch = (rows: readonly PlaceSumRow[]): Batch => ({
  ids: rows.map(row => row.id),
  columns: columnsOf(rows, Object.keys(placeSumTable) as Array<keyof typeof placeSumTable>),
})

/** A business that leads somewhere as a row. */
export type StrongholdRow = {
  id: number
  business: string
  who: 'own' | 'rival' | 'other'
  leads: number
  first3: number
  reach: number | null
  mean: number
  category: string
  rating: number | null
  reviews: number | null
  url: string | null
  doubtful: boolean
}
/** Columns of who leads where. */
export const strongholdTable = {
  business: { key: 'business', label: 'Business', kind: 'text', explain: 'Who is listed' },
  who: { key: 'who', label: 'Whose', kind: 'code', explain: 'Your own, of an accepted rival, or another' },
  leads: {
    key: 'leads',
    label: 'Leads',
    kind: 'number',
    unit: 'points',
    explain: 'Points at which it stands first',
  },
  reach: {
    key: 'reach',
    label: 'Leads as far as',
    kind: 'number',
    unit: 'metres',
    explain: 'From the business to the farthest point at which it stands first',
  },
  first3: {
    key: 'first3',
    label: 'Within 3',
    kind: 'number',
    unit: 'points',
    explain: 'Points at which it stands among the first three',
  },
  mean: { ...placeSumTable.mean },
  doubtful: {
    key: 'doubtful',
    label: 'doubtful',
    kind: 'flag',
    explain: 'The listing may not be what it says: Doubtful listings tells why',
  },
  category: { key: 'category', label: 'Category', kind: 'code', explain: 'What the listing says it is' },
  rating: { key: 'rating', label: 'Rating', kind: 'number', unit: 'stars', explain: 'Mean of its reviews' },
  reviews: { key: 'reviews', label: 'Reviews', kind: 'number', unit: 'reviews', explain: 'How many reviews it has' },
  url: { key: 'url', label: 'Site', kind: 'code', explain: 'The site that the listing names' },
} satisfies Record<string, TableColumn>
export const strongholdSpecs = specsOf(strongholdTable)
export const strongholdBatch = (rows: readonly StrongholdRow[]): Batch => ({
  ids: rows.map(row => row.id),
  columns: columnsOf(rows, Object.keys(strongholdTable) as Array<keyof typeof strongholdTable>),
})

/** Columns of listings that may not be what they say. */
export const doubtfulTable = {
  name: { key: 'name', label: 'Listing', kind: 'text', explain: 'What it calls itself' },
  reasons: { key: 'reasons', label: 'Why', kind: 'code', explain: 'What speaks against it, the gravest first' },
  weight: {
    key: 'weight',
    label: 'Doubt',
    kind: 'number',
    unit: 'sum of signs',
    explain: 'Sum of the signs against it; 2 is doubtful: one strong sign, or several weak ones',
  },
  own: { key: 'own', label: 'own', kind: 'flag', explain: 'It names your own site' },
  category: { key: 'category', label: 'Category', kind: 'code', explain: 'What the listing says it is' },
  street: { key: 'street', label: 'Address', kind: 'code', explain: 'Its address' },
  phone: { key: 'phone', label: 'Telephone', kind: 'code', explain: 'Its telephone' },
  url: { key: 'url', label: 'Site', kind: 'code', explain: 'The site that it names' },
  openedOn: { key: 'openedOn', label: 'Listed since', kind: 'code', unit: 'day', explain: 'Since when it is listed' },
  reviews: { key: 'reviews', label: 'Reviews', kind: 'number', unit: 'reviews', explain: 'How many reviews it has' },
  photos: { key: 'photos', label: 'Pictures', kind: 'number', unit: 'pictures', explain: 'Pictures by visitors' },
  source: { key: 'source', label: 'Number', kind: 'code', explain: 'What the source calls it' },
} satisfies Record<string, TableColumn>
export const doubtfulSpecs = specsOf(doubtfulTable)
export const doubtfulBatch = (rows: readonly DoubtfulListing[]): Batch => ({
  ids: rows.map((_, i) => i + 1),
  columns: {
    ...columnsOf(rows, [
      'name',
      'weight',
      'own',
      'category',
      'street',
      'phone',
      'url',
      'openedOn',
      'reviews',
      'photos',
    ]),
    reasons: rows.map(row => row.reasons.join('; ')),
    source: rows.map(row => row.id),
  },
})
