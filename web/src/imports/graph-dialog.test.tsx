// @vitest-environment jsdom
import { screen, waitFor } from '@testing-library/react'
import { expect, test, vi } from 'vitest'
import { showScreen } from '../../test/show-screen.tsx'
import { GraphDialog } from './GraphDialog.tsx'

const sent: Array<{ url: string; name: string }> = []
const show = (answers: Array<{ status: number; body: unknown }>) => {
  const onClose = vi.fn()
  const shown = showScreen(<GraphDialog onClose={onClose} />, [])
  sent.length = 0
  vi.stubGlobal('fetch', async (url: string, init: RequestInit) => {
    sent.push({ url, name: (init.body as File).name })
    const { status, body } = answers[sent.length - 1]!
    return Response.json(body, { status })
  })
  return { ...shown, onClose }
}
const vertices = new File(['1\tclay.example\n'], 'vertices.txt.gz')
const edges = new File(['1\t2\n'], 'edges.txt')

test('both files are sent, one after the other, once both are chosen', async () => {
  const { user, onClose } = show([
    { status: 200, body: { importId: 7 } },
    { status: 200, body: { jobId: 3 } },
  ])
  const start = screen.getByRole('button', { name: 'Import' })
  await user.upload(screen.getByLabelText('File of vertices'), vertices)
  expect(screen.getByText('vertices.txt.gz')).toBeTruthy()
  expect(start).toHaveProperty('disabled', true)
  await user.upload(screen.getByLabelText('File of edges'), edges)
  await user.click(start)
  await waitFor(() => expect(onClose).toHaveBeenCalledOnce())
  expect(sent.map(each => each.name)).toEqual(['vertices.txt.gz', 'edges.txt'])
  expect(sent[1]!.url).toContain('/7')
  expect(await screen.findByText(/The web graph is being read/)).toBeTruthy()
})

test('a file that is refused is told about, and both stay chosen', async () => {
  const { user, onClose } = show([
    { status: 200, body: { importId: 7 } },
    { status: 400, body: { error: { code: 'badInput', message: 'Line 1 has no second number' } } },
  ])
  await user.upload(screen.getByLabelText('File of vertices'), vertices)
  await user.upload(screen.getByLabelText('File of edges'), edges)
  await user.click(screen.getByRole('button', { name: 'Import' }))
  expect((await screen.findByRole('alert')).textContent).toBe('Line 1 has no second number')
  expect(screen.getByText('edges.txt')).toBeTruthy()
  expect(screen.getByRole('button', { name: 'Import' })).toHaveProperty('disabled', false)
  expect(onClose).not.toHaveBeenCalled()
})
