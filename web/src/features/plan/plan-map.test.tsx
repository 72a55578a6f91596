// @vitest-environment jsdom
import { readForBrief, saveBrief } from '@dew-trail/contract/brief'
import { createPage, orderKeywords, setKeywordSpot } from '@dew-trail/contract/plan'
import { acceptAssignments, movePage } from '@dew-trail/contract/site-map'
import { screen, waitFor, within } from '@testing-library/react'
import { describe, expect, test } from 'vitest'
import { footText } from '../../../test/show-screen.tsx'
import { nodes, madeMap, show } from '../../../test/made-plan.tsx'

const rows = () => [...document.querySelectorAll<HTMLElement>('.tree-row')]
const names = () => rows().map(row => row.querySelector('.tree-open')!.textContent)
const rowOf = (name: string) => rows().find(row => row.querySelector('.tree-open')!.textContent === name)!

describe('the site map', () => {
  test('draws the tree with what each page brings, says what to look at, and what stands without a page', async () => {
    show()
    await screen.findByText('Wheels')
    await waitFor(() => expect(rowOf('Wheels').textContent).toContain('competes with Home'))
    expect(names()).toEqual(['Home', 'Shop', 'Wheels', 'Choosing a kiln', 'Glazes'])
    expect(rows().map(row => row.getAttribute('aria-level'))).toEqual(['1', '2', '3', '2', '2'])
    expect(within(rowOf('Choosing a kiln')).getByRole('img').getAttribute('aria-label')).toBe(
      'about 20 visits a month now, about 180 with the plan',
    )
    expect(rowOf('Glazes').textContent).toContain('late since Oct 1, 2026')
    expect(screen.getByRole('button', { name: '1 no own page links here' })).toBeTruthy()
    expect(screen.getByRole('button', { name: /Without a page/ }).textContent).toContain('14 themes39,800 searches/mo')
    expect(footText()).toContain('5 pages, 2 planned')
    expect(footText()).toContain('4,500 visits/mo now, 4,660 with the plan')
  })

  test('is walked, closed and opened by keys, and shows what is looked for with what stands above it', async () => {
    const { user } = show()
    const tree = await screen.findByRole('treegrid')
    tree.focus()
    await user.keyboard('jj')
    expect(rowOf('Shop').getAttribute('aria-selected')).toBe('true')
    await user.keyboard('{ArrowLeft}')
    expect(names()).toEqual(['Home', 'Shop', 'Choosing a kiln', 'Glazes'])
    await user.keyboard('{ArrowRight}{ArrowRight}')
    expect(rowOf('Wheels').getAttribute('aria-selected')).toBe('true')
    await user.type(screen.getByRole('textbox', { name: 'Find a page' }), 'wheel')
    await waitFor(() => expect(names()).toEqual(['Home', 'Shop', 'Wheels']))
    await user.clear(screen.getByRole('textbox', { name: 'Find a page' }))
    await user.click(screen.getByRole('button', { name: '1 late' }))
    await waitFor(() => expect(names()).toEqual(['Home', 'Glazes']))
  })

  test('moves a page by keys at once, before the server tells of it', async () => {
    const { user, bodies } = show()
    const tree = await screen.findByRole('treegrid')
    tree.focus()
    await user.keyboard('{End}{Alt>}{ArrowRight}{/Alt}')
    await waitFor(() => expect(rowOf('Glazes').getAttribute('aria-level')).toBe('3'))
    expect(names()).toEqual(['Home', 'Shop', 'Wheels', 'Choosing a kiln', 'Glazes'])
    await waitFor(() =>
      expect(bodies(movePage)).toEqual([{ node: 'plan:5', under: 'page:00000000-0000-0000-0000-000000000004' }]),
    )
    expect(await screen.findByText('"Glazes" moved')).toBeTruthy()
  })

  test('a page that is not planned tells what it does and comes to the plan', async () => {
    const { user, bodies } = show(`/1/plan?page=${nodes.wheels}`)
    const panel = await screen.findByRole('complementary', { name: 'Wheels' })
    expect(panel.textContent).toContain('It stands at 9 for "pottery wheel", and gets about 1,900 visits a month.')
    await user.click(within(panel).getByRole('button', { name: 'Rework' }))
    await waitFor(() =>
      expect(bodies(createPage)).toEqual([
        { title: 'Wheels', address: 'https://kilnandtide.example/shop/wheels', kind: 'rework' },
      ]),
    )
  })

  test('themes are accepted one by one or all together', async () => {
    const { user, bodies } = show()
    await user.click(await screen.findByRole('button', { name: /Without a page/ }))
    const dialog = await screen.findByRole('dialog')
    expect(await within(dialog).findByText('No page of yours stands for it')).toBeTruthy()
    await user.click(within(dialog).getByRole('checkbox', { name: 'raku' }))
    await user.click(within(dialog).getByRole('button', { name: 'Accept 1' }))
    await waitFor(() => expect(bodies(acceptAssignments)).toEqual([{ marketId: 1, ids: [1] }]))
    expect(await screen.findByText('3 keywords put on 1 page, 1 of them new')).toBeTruthy()
  })

  test('without a page says how they come; what cannot be read says why', async () => {
    const empty = madeMap({
      ...Object.fromEntries(
        Object.entries(madeMap()).flatMap(([key, value]) => (Array.isArray(value) ? [[key, []]] : [])),
      ),
      crawledOn: null,
    })
    show('/1/plan', empty)
    expect(await screen.findByText('No page is known yet')).toBeTruthy()
    expect(screen.getByRole('button', { name: 'Assign 14 themes' })).toBeTruthy()
  })
  test('that cannot be read says why', async () => {
    show('/1/plan', new Error('The database is away'))
    expect((await screen.findByRole('alert')).textContent).toBe('The database is away')
  })
})

describe('a brief', () => {
  test('takes in headings, terms and links with a click, and is saved each time over the version before', async () => {
    const { user, bodies } = show('/1/plan?page=4')
    await user.click(await screen.findByRole('button', { name: /\+ What size of kiln\?/ }))
    await user.click(screen.getByRole('button', { name: /^stilts/ }))
    await user.click(screen.getByRole('button', { name: /\+ \/guides\/firing/ }))
    await user.click(screen.getByRole('button', { name: 'Take that length' }))
    await waitFor(() => expect(bodies(saveBrief)).toHaveLength(4))
    expect(bodies(saveBrief).map(body => body.version)).toEqual([0, 1, 2, 3])
    expect(bodies(saveBrief).at(-1)!.text).toMatchObject({
      headings: ['What size of kiln?'],
      terms: ['stilts'],
      links: [{ from: 'https://kilnandtide.example/guides/firing', anchor: 'kiln price' }],
      wordsFrom: 800,
      wordsTo: 1_200,
    })
  })

  test('measures its title as it is typed, says which keywords it carries, and keeps what was refused', async () => {
    const { user, bodies } = show('/1/plan?page=4')
    const title = await screen.findByRole('textbox', { name: 'Title' })
    await user.type(title, 'Prices of a kiln')
    expect(await screen.findByText(/The title carries "kiln price" of 2 keywords/)).toBeTruthy()
    expect(screen.getAllByText(/^\d+ of 580 px$/)).toHaveLength(1)
    await user.clear(title)
    await user.type(title, 'Refused')
    await user.tab()
    expect(await screen.findByText(/Yours is not saved yet/)).toBeTruthy()
    expect((title as HTMLInputElement).value).toBe('Refused')
    await user.click(screen.getByRole('button', { name: 'Take theirs' }))
    await waitFor(() => expect((title as HTMLInputElement).value).toBe(''))
    expect(bodies(saveBrief)).toHaveLength(1)
  })

  test('asks for the first results to be read, and goes out as Markdown', async () => {
    const { user, requests, saved } = show('/1/plan?page=4')
    await user.click(await screen.findByRole('button', { name: 'Read the first results' }))
    await waitFor(() => expect(requests.some(each => each.spec === readForBrief)).toBe(true))
    await user.click(screen.getByRole('button', { name: 'Markdown' }))
    await waitFor(() => expect(saved).toHaveLength(1))
    expect(saved[0]!.name).toBe('kilnandtide.example-brief-choosing-a-kiln.md')
    expect(await saved[0]!.blob.text()).toContain('| kiln price (lead) | 1,200 | 40 | anywhere |')
  })
  test('goes out as DOCX', async () => {
    const { user, saved } = show('/1/plan?page=4')
    await user.click(await screen.findByRole('button', { name: 'DOCX' }))
    await waitFor(() => expect(saved).toHaveLength(1))
    const { unzipSync, strFromU8 } = await import('fflate')
    const files = unzipSync(new Uint8Array(await saved[0]!.blob.arrayBuffer()))
    const text = strFromU8(files['word/document.xml']!)
    expect(text).toContain('Choosing a kiln')
    expect(text).toContain('kiln price (lead)')
  })

  test('keywords are put higher, and said where they go', async () => {
    const { user, bodies } = show('/1/plan?page=4')
    await user.click(await screen.findByRole('button', { name: 'Keywords 2' }))
    await user.click(await screen.findByRole('button', { name: 'Make home kiln the lead' }))
    await waitFor(() => expect(bodies(orderKeywords)).toEqual([{ keywordIds: [12, 11] }]))
    await user.selectOptions(screen.getByRole('combobox', { name: 'Where "home kiln" goes' }), 'heading')
    await waitFor(() => expect(bodies(setKeywordSpot)).toEqual([{ keywordIds: [12], spot: 'heading' }]))
  })
})
