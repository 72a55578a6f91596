import { mix } from '../random.ts'
import { linkKind, linkWording } from './links.ts'
import { addressOf, type World } from './world.ts'

const generic = {
  en: ['here', 'click here', 'read more', 'this page', 'website', 'link', 'source', 'this'],
  de: ['hier', 'mehr dazu', 'diese Seite', 'Quelle', 'Link', 'Webseite'],
}
const around = {
  en: ['about {}', '{} from {b}', 'their {} page', 'a note on {}', '{}, explained'],
  de: ['zu {}', '{} bei {b}', 'deren Seite über {}', '{} erklärt'],
}

/** The words of a link; for image links the image's alternative text, which may be empty. */
export function anchorOf(world: World, link: number): string {
  const { links, pages, sites } = world
  const target = pages[links.target[link]!]!
  const source = pages[links.source[link]!]!
  const site = sites[target.site]!
  const draw = mix(world.seed, link, 112)
  if (links.kind[link] === linkKind.image && draw % 3 === 0) return ''
  const pick = (list: string[]): string => list[draw % list.length]!
  const subject = target.head >= 0 ? world.heads[target.head]!.name : site.name
  switch (links.wording[link]) {
    case linkWording.exact:
      return target.phrase
    case linkWording.partial:
      return pick(around[source.language]).replace('{b}', site.name).replace('{}', subject)
    case linkWording.bare:
      return draw % 2 ? site.domain : addressOf(world, target)
    case linkWording.generic:
      return pick(generic[source.language])
    case linkWording.title:
      return target.title
    default:
      return site.name
  }
}

/** The address a link points to: for redirect links the older one, which leads on to the page. */
export function linkedAddress(world: World, link: number): string {
  const target = world.pages[world.links.target[link]!]!
  return addressOf(world, target, world.links.kind[link] === linkKind.redirect)
}
