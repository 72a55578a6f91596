import type { Section } from '@dew-trail/contract/reports'
import { Chart } from 'chart.js'
import { chartDrawing } from './chart-drawing.ts'
import { readDrawing } from './read-drawing.ts'
import { readTable } from './read-table.ts'
import { shownPictures, shownSheets } from './shown-pieces.ts'

/** Something on the screen that a report can hold. */
export type Piece = {
  name: string
  /** What it is, and whether it fills itself anew. */
  about: string
  section(title: string): Promise<Section>
}
const pictureNow = 'the picture as it is now'
const [leastWidth, leastHeight, mostSentence] = [90, 24, 1_000]

/** Pictures, tables and sheets of a screen in the order in which they stand. `on`: today. */
export function findPieces(screen: HTMLElement, on: string): Piece[] {
  const kept = (title: string, sentence: string, part: object): Section => ({
    kind: 'kept',
    title,
    kept: { on, sentence: sentence.slice(0, mostSentence), ...part },
  })
  const pieces = shownSheets().map(
    ({ title: name, live, keep }): Piece => ({
      name,
      about: live ? 'the table, filled anew with each issue' : 'the table as it is now',
      section: async title =>
        live ? { kind: 'view', title, table: live() } : kept(title, '', { table: await keep() }),
    }),
  )
  for (const { title: name, sentence, draw } of shownPictures())
    pieces.push({ name, about: pictureNow, section: async title => kept(title, sentence, { drawing: draw() }) })
  for (const element of screen.querySelectorAll('svg[role="img"], canvas, table')) {
    if (element.closest('[role="dialog"], [role="grid"], .sheet')) continue
    const { width, height } = element.getBoundingClientRect()
    if (element instanceof HTMLTableElement) {
      const table = readTable(element)
      if (table) {
        const about = `a table of ${table.of.toLocaleString('en')} ${table.of === 1 ? 'row' : 'rows'} as it is now`
        pieces.push({ name: nameOf(element, screen), about, section: async title => kept(title, '', { table }) })
      }
      continue
    }
    if (width < leastWidth || height < leastHeight || element.closest('table, button')) continue
    // In a report there is no table beside it.
    const sentence = (element.getAttribute('aria-label') ?? '').replace(/; the table( below)? says the same$/, '')
    const chart = element instanceof HTMLCanvasElement ? Chart.getChart(element) : null
    if (chart === undefined) continue
    const drawing = () => (chart ? chartDrawing(chart) : readDrawing(element as SVGSVGElement))
    pieces.push({
      name: nameOf(element, screen),
      about: pictureNow,
      section: async title => kept(title, sentence, { drawing: drawing() }),
    })
  }
  const used = new Map<string, number>()
  return pieces.map(piece => {
    const times = (used.get(piece.name) ?? 0) + 1
    used.set(piece.name, times)
    return times > 1 ? { ...piece, name: `${piece.name} (${times})` } : piece
  })
}

/** What a picture or table is called: by its own name, else by the heading above it, else by the screen's and the part of it that is open. */
export function nameOf(element: Element, screen: HTMLElement): string {
  const own = element instanceof HTMLTableElement ? element.caption?.textContent || element.ariaLabel : null
  const labelled = element.getAttribute('aria-labelledby')
  const heading = own || (labelled && document.getElementById(labelled)?.textContent) || headingAbove(element, screen)
  // What a picture says of itself begins with what it shows.
  const says = element instanceof HTMLTableElement ? '' : (element.ariaLabel ?? '').split(/[:;.]/)[0]!.trim()
  const part = screen.querySelector('.bar-end [aria-pressed="true"]')?.textContent
  const whole = [screen.querySelector('h1')?.textContent ?? 'This screen', part].filter(Boolean).join(': ')
  return (heading || says || whole).replace(/\s+/g, ' ').trim().slice(0, 110)
}

function headingAbove(element: Element, screen: HTMLElement): string | null {
  for (let at: Element | null = element; at && at !== screen; at = at.parentElement)
    for (let before = at.previousElementSibling; before; before = before.previousElementSibling) {
      const heading = before.matches('h2, h3') ? before : [...before.querySelectorAll('h2, h3')].at(-1)
      if (heading) return heading.textContent
    }
  return null
}
