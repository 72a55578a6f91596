// @vitest-environment jsdom
import { changePage } from '@dew-trail/contract/plan'
import { screen, waitFor } from '@testing-library/react'
import { useState } from 'react'
import { expect, test } from 'vitest'
import { madePage } from '../../../test/made-page.ts'
import { answer, showScreen } from '../../../test/show-screen.tsx'
import { usePageDraft } from './use-page-draft.ts'

const theirs = { remarks: 'Theirs', title: 'Their title', version: 2 }
type FieldProps = ReturnType<ReturnType<typeof usePageDraft>['field']> & { name: string }
function Field({ name, helperText, error: _, ...input }: FieldProps & { error?: boolean; helperText?: string }) {
  return (
    <>
      <input aria-label={name} {...input} />
      <small>{helperText}</small>
    </>
  )
}
function Draft() {
  const [page, setPage] = useState(madePage({ remarks: 'Before' }))
  const { field } = usePageDraft(page)
  return (
    <>
      <Field name="remarks" {...field('remarks')} />
      <Field name="title" {...field('title')} />
      <button
        type="button"
        onMouseDown={event => event.preventDefault()}
        onClick={() => setPage({ ...page, ...theirs })}
      >
        Somebody else saves
      </button>
    </>
  )
}
const show = (refuse = false) =>
  showScreen(<Draft />, [
    answer(changePage, ({ body }) =>
      refuse
        ? new Error('Somebody changed this page meanwhile')
        : { id: 4, actId: 1, version: Number(body.version) + 1 },
    ),
  ])
const value = (name: string): string => screen.getByRole<HTMLInputElement>('textbox', { name }).value

test('what somebody else changed comes into fields that nobody is writing in, and leaving such a field saves nothing', async () => {
  const { user, bodies } = show()
  await user.click(screen.getByRole('button', { name: 'Somebody else saves' }))
  expect([value('remarks'), value('title')]).toEqual(['Theirs', 'Their title'])
  await user.click(screen.getByRole('textbox', { name: 'remarks' }))
  await user.tab()
  expect(bodies(changePage)).toEqual([])
})

test('a text that was begun before is sent as of then, so that it is refused, and stays in its field', async () => {
  const { user, bodies } = show(true)
  await user.type(screen.getByRole('textbox', { name: 'remarks' }), ' and mine')
  await user.click(screen.getByRole('button', { name: 'Somebody else saves' }))
  expect([value('remarks'), value('title')]).toEqual(['Before and mine', 'Their title'])
  await user.tab()
  await waitFor(() => expect(bodies(changePage)).toEqual([{ remarks: 'Before and mine', version: 1 }]))
  expect(await screen.findByText('Somebody changed this page meanwhile')).toBeTruthy()
  expect(value('remarks')).toBe('Before and mine')
  // The other's text is in sight now; Escape takes it, so that nothing is saved any more.
  expect(screen.getByText(/^Meanwhile it became "Theirs"/)).toBeTruthy()
  await user.type(screen.getByRole('textbox', { name: 'remarks' }), '{Escape}')
  expect(value('remarks')).toBe('Theirs')
  await user.tab()
  expect(bodies(changePage)).toHaveLength(1)
})

test('fields saved one after the other go on from each other', async () => {
  const { user, bodies } = show()
  await user.type(screen.getByRole('textbox', { name: 'remarks' }), '!')
  await user.tab()
  await user.type(screen.getByRole('textbox', { name: 'title' }), '?')
  await user.tab()
  await waitFor(() =>
    expect(bodies(changePage)).toEqual([
      { remarks: 'Before!', version: 1 },
      { title: 'Choosing a kiln?', version: 2 },
    ]),
  )
})
