// @vitest-environment jsdom
import { assignKeywords, createPage, listPages } from '@dew-trail/contract/plan'
import { screen, waitFor } from '@testing-library/react'
import { describe, expect, test, vi } from 'vitest'
import { answer, showScreen } from '../../../test/show-screen.tsx'
import { madePage } from '../../../test/made-page.ts'
import PlanDialog from './PlanDialog.tsx'

const rows = async (ids: number[]) =>
  ids.map(id => ({ id, phrase: id === 12 ? 'kiln price' : 'kiln cost', searches: id === 12 ? 900 : null }))
const show = (props: Partial<Parameters<typeof PlanDialog>[0]> = {}, pages = [madePage()]) => {
  const onClose = vi.fn()
  const shown = showScreen(
    <PlanDialog keywordIds={[11, 12]} onClose={onClose} {...props} />,
    [
      answer(listPages, () => pages),
      answer(createPage, () => ({ id: 9, takenOff: 1, actId: 51 })),
      answer(assignKeywords, () => ({ takenOff: 2, actId: 52 })),
    ],
    '/1/plan',
    { rows } as never,
  )
  const bodies = (spec: object) => shown.requests.filter(each => each.spec === spec).map(each => each.body)
  return { ...shown, onClose, bodies }
}
const put = () => screen.getByRole('button', { name: 'Put on page' })

describe('putting keywords on a page', () => {
  test('a new page is named after the keyword that is searched most; who was on another page is said, and undo takes it back', async () => {
    const { user, bodies, onClose, undone } = show()
    await waitFor(() => expect(screen.getByRole('textbox', { name: /Name/ })).toHaveProperty('value', 'Kiln price'))
    await user.click(put())
    expect(bodies(createPage)).toEqual([
      { title: 'Kiln price', address: null, kind: 'new', deadline: null, keywordIds: [11, 12] },
    ])
    expect(onClose).toHaveBeenCalledOnce()
    expect(await screen.findByText('"Kiln price" is planned with 2 keywords; one was on another page')).toBeTruthy()
    await user.click(await screen.findByText('Undo'))
    await waitFor(() => expect(undone()).toEqual([51]))
  })
  test('a name that was typed is not overwritten, and one without a name is not sent', async () => {
    const { user, bodies } = show()
    const name = screen.getByRole('textbox', { name: /Name/ })
    await waitFor(() => expect(name).toHaveProperty('value', 'Kiln price'))
    await user.clear(name)
    await user.click(put())
    expect(bodies(createPage)).toEqual([])
    await user.type(name, 'All about kilns')
    await user.click(put())
    expect(bodies(createPage)[0]).toMatchObject({ title: 'All about kilns' })
  })
  test('a page of the site needs its address', async () => {
    const { user, bodies } = show()
    await waitFor(() => expect(screen.getByRole('textbox', { name: /Name/ })).toHaveProperty('value', 'Kiln price'))
    await user.click(screen.getByRole('radio', { name: 'Page the site has' }))
    await user.click(put())
    expect(screen.getByText('Give the address of the page')).toBeTruthy()
    await user.type(screen.getByRole('textbox', { name: 'Address' }), '/kilns')
    expect(screen.queryByText('Give the address of the page')).toBeNull()
    await user.click(put())
    expect(bodies(createPage)).toMatchObject([{ address: '/kilns', kind: 'keep' }])
  })
  test('a page that is in the plan already is found by its address; undo takes back the move', async () => {
    const page = { address: 'https://kilnandtide.example/guides/kilns', title: 'Kilns' }
    const { user, bodies, undone } = show({ page })
    await waitFor(() =>
      expect(screen.getByRole('combobox', { name: 'Page' })).toHaveProperty('value', 'Choosing a kiln'),
    )
    await user.click(put())
    expect(bodies(assignKeywords)).toEqual([{ pageId: 4, keywordIds: [11, 12] }])
    await user.click(await screen.findByText('Undo'))
    expect(await screen.findByText('2 keywords put on "Choosing a kiln"; 2 were on another page')).toBeTruthy()
    await waitFor(() => expect(undone()).toEqual([52]))
  })
  test('without a plan no planned page can be chosen; with one it must be', async () => {
    const { user, bodies } = show()
    await user.click(await screen.findByRole('radio', { name: 'Planned page' }))
    await user.click(put())
    expect(screen.getByText('Choose a page')).toBeTruthy()
    expect(bodies(assignKeywords)).toEqual([])
  })
})
