// @vitest-environment jsdom
import { listJobs } from '@dew-trail/contract/jobs'
import {
  changePlaceGrid,
  createPlaceGrid,
  type ListedBusiness,
  listDoubtfulListings,
  listPlaceGrids,
  listPlaceSums,
  listTowns,
  type PlaceGrid,
  readPlaceRun,
  readTown,
  removePlaceGrid,
  setPlaceSchedule,
  startPlaceRun,
  type TownMap,
} from '@dew-trail/contract/places'
import { listEngines, listSources } from '@dew-trail/contract/sources'
import { placeAt } from '@dew-trail/core/places/grid-points'
import { fireEvent, screen, waitFor, within } from '@testing-library/react'
import { beforeEach, describe, expect, test, vi } from 'vitest'
import { answer, footText, linesOf, sheetRows, showScreen } from '../../../test/show-screen.tsx'
import PlacesScreen from './PlacesScreen.tsx'

beforeEach(() => {
  localStorage.clear()
  vi.stubGlobal(
    'ResizeObserver',
    class {
      observe() {}
      disconnect() {}
    },
  )
})

const centre = { latitude: 47.42, longitude: -28.61 }
const business = (number: number, name: string, more: Partial<ListedBusiness> = {}): ListedBusiness => ({
  number,
  id: `b${number}`,
  name,
  category: 'pottery studio',
  street: '4 Mill Row',
  phone: null,
  url: `https://maker-${number}.example/`,
  rating: 4.5,
  reviews: 120,
  photos: 40,
  hours: null,
  openedOn: '2019-04-01',
  own: false,
  rival: false,
  ...placeAt(centre, 700 * (number - 1), 0),
  ...more,
})
const businesses = [
  business(1, 'Kiln & Tide Lindle', { own: true, ...centre }),
  business(2, 'Quay Studio', { rival: true }),
  business(3, 'Far Pottery', { reviews: 2, url: null }),
]
const made = (more: Partial<PlaceGrid> = {}): PlaceGrid => ({
  id: 5,
  name: 'Lindle, 3 × 3',
  town: 'lindle',
  townName: 'Lindle',
  engine: 'lantern',
  language: 'en',
  keywords: ['pottery class', 'kiln hire'],
  businesses: [{ number: 1, id: 'b1', name: 'Kiln & Tide Lindle', ...centre }],
  ...centre,
  size: 3,
  spacing: 500,
  depth: 20,
  leftOut: [],
  version: 2,
  runs: [
    { id: 9, day: '2026-11-20', keywords: ['pottery class', 'kiln hire'], wanted: 18, checked: 17, jobId: 3 },
    { id: 8, day: '2026-10-20', keywords: ['pottery class'], wanted: 9, checked: 9, jobId: 2 },
  ],
  schedule: null,
  ...more,
})
const now = [[1, 2], [2, 1], [2, 3], [1], [1, 2], [2, 1], [3, 2], null, [2, 3, 1]]
const before = [[2, 1], [2, 1], [2, 3], [1], [1, 2], [1], [3, 2, 1], [1], [2, 3, 1]]
const results = (runId: string) => ({
  day: runId === '9' ? '2026-11-20' : '2026-10-20',
  keyword: 'pottery class',
  leftOut: [],
  points: runId === '9' ? now : before,
  businesses,
})

const street: TownMap = {
  sea: [],
  lines: [
    {
      kind: 'main',
      name: 'Mill Row',
      line: [
        [47.4, -28.6],
        [47.43, -28.62],
      ],
    },
  ],
}

const show = (path = '/1/places', more: Parameters<typeof showScreen>[1] = [], grid: PlaceGrid | null = made()) =>
  showScreen(
    <PlacesScreen />,
    [
      ...more,
      answer(listPlaceGrids, () => ({ timeZone: 'UTC', grids: grid ? [grid] : [] })),
      answer(readPlaceRun, ({ url }) => results(/runs\/(\d+)/.exec(url)![1]!)),
      answer(readTown, () => ({
        map: street,
        businesses: businesses.map(({ number: _, rival: __, ...each }) => each),
      })),
      answer(listDoubtfulListings, () => ({
        looked: 60,
        rows: [
          { ...plain(businesses[2]!), weight: 2.5, reasons: ['it has the telephone of Quay Studio', 'it has no site'] },
        ],
      })),
      answer(listTowns, () => [
        { code: 'brunnach', name: 'Brunnach', country: 'X', language: 'de', ...centre },
        { code: 'lindle', name: 'Lindle', country: 'X', language: 'en', ...centre },
      ]),
      answer(listJobs, () => []),
      answer(listEngines, () => []),
      answer(listSources, () => []),
    ],
    path,
  )
const plain = ({ number: _, rival: __, ...each }: ListedBusiness) => each
const hexes = (map: RegExp) =>
  within(screen.getByRole('region', { name: map })).getAllByRole('button', { name: /: (position|not|up|down|as|left)/ })

describe('the map', () => {
  test('says figures and a sentence, and draws a hexagon a point; not found and not checked are told apart', async () => {
    show()
    await screen.findByText('mean position', { exact: false })
    // 1, 2, not found, 1, 1, 2, not found, 3: of eight checked points.
    expect(document.querySelector('.places-side')!.textContent).toContain('6.5 mean position')
    expect(screen.getByText(/^Among the first three/).textContent).toBe(
      'Among the first three within 500 m; behind Quay Studio in the north-east.',
    )
    expect(screen.getByText(/1 point was not checked, which says nothing/)).toBeTruthy()
    await waitFor(() =>
      expect(hexes(/^Positions of/).map(each => each.textContent)).toEqual([
        '1',
        '2',
        '20+',
        '1',
        '1',
        '2',
        '20+',
        '–',
        '3',
      ]),
    )
    expect(hexes(/^Positions of/)[7]!.getAttribute('aria-label')).toBe('1 south: not checked')
    expect(hexes(/^Positions of/)[2]!.getAttribute('aria-label')).toBe('1 north 1 east: not among the first 20')
  })
  test('a point opens its whole list, by mouse and by keys; somebody else can be looked at', async () => {
    const { user } = show()
    await waitFor(() => expect(hexes(/^Positions of/)).toHaveLength(9))
    const middle = hexes(/^Positions of/)[4]!
    expect(middle.tabIndex).toBe(0)
    fireEvent.keyDown(middle, { key: 'ArrowRight' })
    expect(document.activeElement!.getAttribute('aria-label')).toBe('1 east: position 2')
    fireEvent.keyDown(document.activeElement!, { key: 'Enter' })
    const list = await screen.findByRole('region', { name: 'At this point' })
    expect(
      within(list)
        .getAllByRole('row')
        .map(row => row.textContent),
    ).toEqual(['#Businessawayrating', '1Quay Studio rival200 m4.5', '2Kiln & Tide Lindle yours500 m4.5'])
    await user.click(within(list).getByRole('button', { name: 'Quay Studio' }))
    await waitFor(() =>
      expect(hexes(/^Positions of Quay Studio/).map(each => each.textContent)).toEqual([
        '2',
        '1',
        '1',
        '20+',
        '2',
        '1',
        '2',
        '–',
        '1',
      ]),
    )
  })
  test('two runs stand beside each other, or as their difference with signs', async () => {
    const { user } = show('/1/places?beside=8')
    await waitFor(() => expect(screen.getAllByRole('region', { name: /^Positions of/ })).toHaveLength(2))
    await user.click(screen.getByRole('button', { name: 'as a difference' }))
    await waitFor(() =>
      expect(hexes(/^Change from/).map(each => each.textContent)).toEqual([
        '+1',
        '0',
        '0',
        '0',
        '0',
        '−1',
        '−18',
        '–',
        '0',
      ]),
    )
    expect(document.querySelector('.places-side')!.textContent).toContain('since Oct 20, 2026')
  })
  test('a run that lacks the keyword is not compared by another; a point that the grid does not have is none', async () => {
    const { user } = show('/1/places?beside=8&at=9999')
    await waitFor(() => expect(screen.getAllByRole('region', { name: /^Positions of/ })).toHaveLength(2))
    expect(screen.queryByRole('region', { name: 'At this point' })).toBeNull()
    await user.click(screen.getByRole('combobox', { name: 'Which keyword' }))
    await user.click(await screen.findByRole('option', { name: 'kiln hire' }))
    await waitFor(() => expect(screen.getAllByRole('region', { name: /^Positions of/ })).toHaveLength(1))
  })
  test('a point is left out for the next runs by its key, and undone', async () => {
    const { bodies, undone, user } = show('/1/places', [answer(changePlaceGrid, () => ({ actId: 12 }))])
    await waitFor(() => expect(hexes(/^Positions of/)).toHaveLength(9))
    fireEvent.keyDown(hexes(/^Positions of/)[0]!, { key: 'o' })
    await screen.findByText('The next run leaves this point out')
    expect(bodies(changePlaceGrid)).toEqual([{ version: 2, leftOut: [0] }])
    await user.click(screen.getByRole('button', { name: 'Undo' }))
    expect(undone()).toEqual([12])
  })
  test('what is missing of a run is asked for again; a run says what it costs', async () => {
    const { user, bodies } = show('/1/places', [answer(startPlaceRun, () => ({ runId: 9, jobId: 4, requests: 1 }))])
    await user.click(await screen.findByRole('button', { name: 'Ask for the 1 missing' }))
    await screen.findByText('Asking again at 1 point')
    expect(bodies(startPlaceRun)).toEqual([{ runId: 9 }])
    expect(screen.getByRole('button', { name: 'Run now' }).title).toBe(
      'Asks the engine 18 times: once a point and keyword',
    )
  })
  test('points go out as GeoJSON, longitude first', async () => {
    const { user, saved } = show()
    await waitFor(() => expect(hexes(/^Positions of/)).toHaveLength(9))
    await user.click(screen.getAllByRole('button', { name: 'More' })[1]!)
    await user.click(await screen.findByRole('menuitem', { name: 'Save points as GeoJSON' }))
    const [file] = saved
    expect(file!.name).toBe('positions-lindle-2026-11-20.geojson')
    const json = JSON.parse(await file!.blob.text())
    expect(json).toMatchObject({ type: 'FeatureCollection', keyword: 'pottery class', depth: 20 })
    expect(json.features[4].geometry).toEqual({ type: 'Point', coordinates: [centre.longitude, centre.latitude] })
    expect(
      json.features
        .map((each: { properties: { state: string; position: number | null } }) => [
          each.properties.state,
          each.properties.position,
        ])
        .slice(6),
    ).toEqual([
      ['not found', null],
      ['not checked', null],
      ['found', 3],
    ])
    await user.click(screen.getAllByRole('button', { name: 'More' })[1]!)
    await user.click(await screen.findByRole('menuitem', { name: 'Save as SVG' }))
    const svg = await saved[1]!.blob.text()
    expect(svg).toContain('Kiln &amp; Tide Lindle, “pottery class”, Lindle, Nov 20, 2026')
    expect(svg.match(/<polygon/g)).toHaveLength(9)
  })
})

describe('tables', () => {
  test('points with state, change and who stands first', async () => {
    const { user, saved } = show('/1/places?see=points&beside=8')
    await waitFor(() => expect(sheetRows()).toHaveLength(9))
    expect(
      sheetRows()
        .map(row => row.textContent)
        .slice(5, 9),
    ).toEqual([
      '1 east2' + '1' + 'down 1' + '500 m' + 'east' + 'Quay Studio' + 'Kiln & Tide Lindle',
      '1 south 1 west20+' + '3' + 'down 18' + '700 m' + 'south-west' + 'Far Pottery' + 'Quay Studio',
      '1 southnot checked' + '1' + '–' + '500 m' + 'south',
      '1 south 1 east3' +
        '3' +
        'as before' +
        '700 m' +
        'south-east' +
        'Quay Studio' +
        'Far Pottery' +
        'Kiln & Tide Lindle',
    ])
    await user.click(screen.getByRole('button', { name: 'Export' }))
    await user.click(await screen.findByRole('menuitem', { name: /CSV/ }))
    await waitFor(async () => expect((await linesOf(saved[0]!))[1]).toContain('1 north 1 west'))
  })
  test('strongholds: who leads and how far, what is open, and which of them is doubtful', async () => {
    const { user } = show('/1/places?see=strongholds')
    await waitFor(() => expect(sheetRows()).toHaveLength(3))
    expect(sheetRows().map(row => row.textContent)).toEqual([
      expect.stringMatching(/^Quay Studiorival4/),
      expect.stringMatching(/^Kiln & Tide Lindleyours3/),
      expect.stringMatching(/^Far Pottery1.*doubtful/),
    ])
    expect(screen.getByText(/^Quay Studio leads 4 points/).textContent).toContain(
      'At 2 points two of the first three are weak or far away',
    )
    await user.click(screen.getByRole('button', { name: '1 south 1 west' }))
    expect(await screen.findByRole('region', { name: 'At this point' })).toBeTruthy()
  })
  test('all runs: figures of every keyword with their change, and a line over time', async () => {
    const sum = (runId: number, day: string, mean: number) => ({
      runId,
      day,
      keyword: 'pottery class',
      business: 1,
      name: 'Kiln & Tide Lindle',
      own: true,
      checked: 8,
      mean,
      first3: 6,
      found: 6,
    })
    show('/1/places?see=runs', [answer(listPlaceSums, () => [sum(9, '2026-11-20', 6.6), sum(8, '2026-10-20', 4.1)])])
    await waitFor(() =>
      expect(sheetRows().map(row => row.textContent)).toEqual([
        'pottery classKiln & Tide LindleyoursNov 20, 20266.6down 2.575%75%8',
        'pottery classKiln & Tide LindleyoursOct 20, 20264.1–75%75%8',
      ]),
    )
    expect(screen.getByRole('img', { name: 'Mean positions over the runs' }).querySelectorAll('circle')).toHaveLength(2)
  })
  test('doubtful listings with their reasons', async () => {
    show('/1/places?see=doubtful')
    await waitFor(() =>
      expect(sheetRows()[0]!.textContent).toContain(
        'Far Potteryit has the telephone of Quay Studio; it has no site2.5',
      ),
    )
    expect(screen.getByText(/1 listing of 60 in Lindle may not be what they say/)).toBeTruthy()
    await waitFor(() => expect(footText()).toContain('1 listing'))
  })
})

describe('setting up', () => {
  test('without a grid the screen says what one is for, and lays the first; requests are said before', async () => {
    const { user, bodies } = show(
      '/1/places',
      [
        answer(createPlaceGrid, () => ({ gridId: 7, actId: 1 })),
        answer(startPlaceRun, () => ({ runId: 1, jobId: 2, requests: 98 })),
      ],
      null,
    )
    await user.click(await screen.findByRole('button', { name: 'Lay a grid over a town' }))
    const lay = await screen.findByRole('button', { name: 'Lay it and run' })
    expect(lay).toHaveProperty('disabled', true)
    // The town of the market's language, and the own business.
    await waitFor(() => expect(screen.getByText('Kiln & Tide Lindle')).toBeTruthy())
    await user.type(screen.getByLabelText('Keywords, one a line'), 'pottery class{enter}kiln hire')
    expect(screen.getByText('A run asks the engine 98 times: 49 points for 2 keywords.')).toBeTruthy()
    await user.clear(screen.getByLabelText('Metres apart'))
    await user.type(screen.getByLabelText('Metres apart'), '5')
    expect(lay).toHaveProperty('disabled', true)
    await user.type(screen.getByLabelText('Metres apart'), '00')
    await user.click(lay)
    await screen.findByText(/^Asking at 98 points/)
    expect(bodies(createPlaceGrid)).toEqual([
      {
        town: 'lindle',
        engine: 'lantern',
        language: 'en',
        keywords: ['pottery class', 'kiln hire'],
        businesses: ['b1'],
        ...centre,
        size: 7,
        spacing: 500,
      },
    ])
    expect(bodies(startPlaceRun)).toHaveLength(1)
  })
  test('a grid runs on a schedule, and is removed with undo', async () => {
    const { user, bodies } = show('/1/places', [
      answer(setPlaceSchedule, () => ({})),
      answer(removePlaceGrid, () => ({ actId: 3 })),
    ])
    await user.click((await screen.findAllByRole('button', { name: 'More' }))[0]!)
    await user.click(await screen.findByRole('menuitem', { name: 'Run it on a schedule' }))
    await user.click(await screen.findByRole('combobox', { name: 'How often the grid runs' }))
    await user.click(await screen.findByRole('option', { name: 'Every week' }))
    await waitFor(() => expect(bodies(setPlaceSchedule)).toMatchObject([{ rhythm: { every: 'week' } }]))
    await user.click(screen.getByRole('button', { name: 'Close' }))
    await user.click((await screen.findAllByRole('button', { name: 'More' }))[0]!)
    await user.click(await screen.findByRole('menuitem', { name: 'Remove this grid' }))
    await screen.findByText('Lindle, 3 × 3 removed')
  })
})
