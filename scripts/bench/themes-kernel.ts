import { groupMethods, groupThemes } from '@dew-trail/core/themes/group-themes'
import type { KeywordPages } from '@dew-trail/core/themes/keyword-pages'
import { previewThemes } from '@dew-trail/core/themes/preview-themes'

/** Run as a process of its own, so that its peak memory is its own: groups made-up keywords. Prints one line of JSON. */
const [count, popular] = process.argv.slice(2).map(Number) as [number, number]
const packed = madeResults(count, popular)
const baseBytes = process.memoryUsage.rss()
const timed = (work: () => void): number => {
  const times: number[] = []
  for (let i = 0; i < 5; i++) {
    const began = performance.now()
    work()
    times.push(performance.now() - began)
  }
  return times.slice(1).sort((a, b) => a - b)[2]!
}
let themes = 0
const groupMs = timed(() => {
  themes = groupThemes(packed, { threshold: 4, method: groupMethods[0] }).leads.length
})
let previewMs = 0
if (!popular) {
  const searches = Array.from({ length: count }, (_, i) => count - i)
  const began = performance.now()
  previewThemes(packed, searches)
  previewMs = performance.now() - began
}
const peakBytes = process.resourceUsage().maxRSS * 1024 - baseBytes
console.log(JSON.stringify({ groupMs, previewMs, themes, peakBytes }))

/**
 * Ten results a keyword: seven in ten of fourteen pages of its meaning, the others of 200,000 others; with `popular`, so many pages are each
 * on a fifth of the keywords. The same numbers as in themes.cpp.
 */
function madeResults(keywords: number, popularPages: number): KeywordPages {
  let state = 1
  const draw = (): number => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0
    return state / 2 ** 32
  }
  const perMeaning = 14
  const meanings = Math.floor(keywords / 6)
  const others = 200_000
  const pageCount = popularPages + meanings * perMeaning + others
  const starts = new Int32Array(keywords + 1)
  const pages = new Int32Array(keywords * 10)
  let filled = 0
  for (let i = 0; i < keywords; i++) {
    const meaning = Math.floor(draw() * meanings)
    const from = filled
    const add = (page: number): void => {
      for (let at = from; at < filled; at++) if (pages[at] === page) return
      if (filled - from < 10) pages[filled++] = page
    }
    for (let page = 0; page < popularPages; page++) if (draw() < 0.2) add(page)
    for (let tries = 0; tries < 14; tries++) {
      if (draw() < 0.7) add(popularPages + meaning * perMeaning + Math.floor(draw() * perMeaning))
      else add(popularPages + meanings * perMeaning + Math.floor(draw() * others))
    }
    starts[i + 1] = filled
  }
  return { starts, pages: pages.slice(0, filled), pageCount }
}
