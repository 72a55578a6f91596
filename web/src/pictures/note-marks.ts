import type { Plugin } from 'chart.js'

/** Days that have notes, by their place on the axis: a line through the picture with a diamond at its foot. */
export const noteMarks = (positions: readonly number[], colour: string, id = 'noteMarks'): Plugin<'line'> => ({
  id,
  beforeDatasetsDraw({ ctx, chartArea, scales }) {
    ctx.save()
    ctx.strokeStyle = colour
    ctx.fillStyle = colour
    for (const position of positions) {
      const x = scales.x!.getPixelForValue(position)
      ctx.globalAlpha = 0.5
      ctx.beginPath()
      ctx.moveTo(x, chartArea.top)
      ctx.lineTo(x, chartArea.bottom)
      ctx.stroke()
      ctx.globalAlpha = 1
      ctx.beginPath()
      ctx.moveTo(x, chartArea.bottom - 5)
      ctx.lineTo(x + 4, chartArea.bottom)
      ctx.lineTo(x, chartArea.bottom + 5)
      ctx.lineTo(x - 4, chartArea.bottom)
      ctx.fill()
    }
    ctx.restore()
  },
})

/** Texts of notes by the day of the axis under which they are drawn: their own, or the first one after it that was drawn. */
export function notesByDay(
  notes: ReadonlyArray<{ day: string; text: string }>,
  days: readonly string[],
): Map<string, string[]> {
  const byDay = new Map<string, string[]>()
  for (const note of notes) {
    const day = days.find(each => each >= note.day)
    if (!day || note.day < days[0]!) continue
    byDay.set(day, [...(byDay.get(day) ?? []), note.text])
  }
  return byDay
}
