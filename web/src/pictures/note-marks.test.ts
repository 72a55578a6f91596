import { expect, test } from 'vitest'
import { notesByDay } from './note-marks.ts'

test('notes stand at their day, or at the next one that is drawn; those before and after the picture at none', () => {
  const days = ['2026-11-02', '2026-11-03', '2026-11-09']
  const notes = ['2026-11-01', '2026-11-02', '2026-11-04', '2026-11-09', '2026-11-10'].map(day => ({ day, text: day }))
  expect([...notesByDay(notes, days)]).toEqual([
    ['2026-11-02', ['2026-11-02']],
    ['2026-11-09', ['2026-11-04', '2026-11-09']],
  ])
  expect(notesByDay(notes, []).size).toBe(0)
})
