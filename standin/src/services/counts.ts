import { textHash, unit } from '../random.ts'
import type { Engine, Language } from '../world/vocabulary.ts'
import type { World } from '../world/world.ts'

const titlesKept = new WeakMap<World, { edition: number; titles: Record<Language, string[]> }>()
function titlesOf(world: World, language: Language): string[] {
  let known = titlesKept.get(world)
  if (known?.edition !== world.edition) {
    const titles: Record<Language, string[]> = { en: [], de: [] }
    for (const page of world.pages) if (!page.gone) titles[page.language].push(page.title.toLowerCase())
    titlesKept.set(world, (known = { edition: world.edition, titles }))
  }
  return known.titles[language]
}

/** How many pages an engine says have a phrase, in their text or in their titles: rough, as such counts are, and of a web far larger than this. */
export function resultCount(
  world: World,
  { engine, phrase, language, where }: { engine: Engine; phrase: string; language: Language; where: 'text' | 'title' },
): number {
  const wanted = phrase.toLowerCase().replace(/\s+/g, ' ').trim()
  const found = titlesOf(world, language).filter(title => title.includes(wanted)).length
  const wobble = 0.6 + 0.8 * unit(world.seed, textHash(`${engine} ${wanted}`), 91)
  const inTitles = Math.round(found * 37 * wobble)
  return where === 'title' ? inTitles : inTitles * 12 + Math.round(400 * wobble * (found ? 1 : 0.1))
}
