import { engines, places } from '../world/vocabulary.ts'

const upper = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1)

/** The engines with what can be searched in them, and where a person sees their results. `origin`: the address of this port. */
export const engineList = (origin: string): object => ({
  engines: engines.map(engine => ({
    engine,
    name: upper(engine),
    page: `${origin}/engines/${engine}?q={query}&place={place}&language={language}&device={device}`,
    devices: ['desktop', 'mobile'],
    places: places.map(({ code, name, country, language }) => ({
      place: code,
      name,
      country: places.find(each => each.code === country)!.name,
      languages: [{ language, name: language === 'de' ? 'German' : 'English' }],
    })),
  })),
})
