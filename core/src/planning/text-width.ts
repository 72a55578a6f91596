import { unitsPerEm, widthBlocks } from './arimo-widths.ts'

const widths = new Map<number, number>()
for (const { from, widths: text } of widthBlocks)
  for (const [i, width] of text.split(' ').entries()) if (Number(width) > 0) widths.set(from + i, Number(width))
/** Characters of scripts that the font lacks are mostly as wide as they are high. */
const squareFrom = 0x1100

/** What of a page an engine shows in a line of results, and how wide that may be before it is cut. */
export const lineLimits = {
  title: { size: 20, desktop: 580, mobile: 600 },
  description: { size: 14, desktop: 920, mobile: 920 },
} as const

/**
 * Width of a text in CSS pixels when it is set in Arimo Regular at a size in pixels, without kerning; spaces in a row count once, as a
 * browser shows them. Accents that stand by themselves are counted with their letter. O(characters).
 */
export function textWidth(text: string, size: number): number {
  let units = 0
  for (const each of text.normalize('NFC').replace(/\s+/g, ' ').trim()) {
    const code = each.codePointAt(0)!
    if (/\p{M}/u.test(each)) continue
    units += widths.get(code) ?? (code >= squareFrom ? unitsPerEm : widths.get(0x6e)!)
  }
  return (units / unitsPerEm) * size
}

/** A text as a line of results shows it: cut after the last whole word that fits beside an ellipsis. */
export function cutToWidth(text: string, size: number, limit: number): string {
  if (textWidth(text, size) <= limit) return text
  const words = text.trim().split(/\s+/)
  while (words.length > 1 && textWidth(`${words.join(' ')} …`, size) > limit) words.pop()
  if (words.length > 1 || textWidth(`${words[0]} …`, size) <= limit) return `${words.join(' ')} …`
  const letters = [...words[0]!]
  while (letters.length > 1 && textWidth(`${letters.join('')}…`, size) > limit) letters.pop()
  return `${letters.join('')}…`
}
