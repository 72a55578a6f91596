import { deviceFrom, engineFrom, languageFrom, placeFrom, textFrom } from '../ask.ts'
import { search } from '../services/engines.ts'
import type { World } from '../world/world.ts'

const escapes: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' }
const escaped = (text: string): string => text.replace(/[&<>"]/g, sign => escapes[sign]!)

/** What a person sees who searches today: HTML for everybody, without a key. Throws BadRequest as the service itself does. */
export function resultPage(world: World, name: string | undefined, query: URLSearchParams): string {
  const engine = engineFrom(name)
  const q = textFrom(query.get('q'), 'q')
  const language = languageFrom(query.get('language'))
  const found = search(world, {
    engine,
    query: q,
    place: placeFrom(query.get('place')),
    language,
    device: deviceFrom(query.get('device') ?? undefined),
    day: world.today,
    start: 1,
    count: 20,
  }) as { organic: Array<{ position: number; url: string; title: string; snippet: string }> }
  const results = found.organic.map(
    ({ url, title, snippet }) =>
      `<li><a href="${escaped(url)}">${escaped(title)}</a><br><cite>${escaped(url)}</cite><p>${escaped(snippet.replace(/<\/?b>/g, ''))}</p></li>`,
  )
  return `<!doctype html><html lang="${language}"><head><meta charset="utf-8"><title>${escaped(q)} – ${engine}</title></head><body><h1>${escaped(q)}</h1><ol>${results.join('')}</ol></body></html>`
}
