import type { findNames } from '@dew-trail/contract/gather'
import { splitWords } from '@dew-trail/core/words/split-words'
import type { z } from 'zod'
import type { Context } from '../../context.ts'
import { needSite } from '../../domain/sites/need-market.ts'
import { SourceError } from '../../platform/outside/source-error.ts'

/** The words of a phrase as the label of a domain name: letters of ASCII, digits; `null` where nothing is left or it is too long. */
export function nameLabel(phrase: string): string | null {
  const label = splitWords(phrase)
    .join('')
    .replace(/ä/g, 'ae')
    .replace(/ö/g, 'oe')
    .replace(/ü/g, 'ue')
    .replace(/ß/g, 'ss')
    .normalize('NFKD')
    .replace(/[^a-z0-9]/g, '')
  return label && label.length <= 63 ? label : null
}

/** Asks the registry about the exact-match name of each phrase under each ending. A name it has no entry for is free. */
export async function findDomainNames(
  context: Context,
  { siteId, phrases, endings }: z.output<(typeof findNames)['input']>,
): Promise<z.input<(typeof findNames)['output']>> {
  await needSite(context.pool, siteId)
  const wanted = phrases.flatMap(phrase => {
    const label = nameLabel(phrase)
    return label ? [...new Set(endings)].map(ending => ({ phrase, name: `${label}.${ending.replace(/^\./, '')}` })) : []
  })
  return Promise.all(
    wanted.map(async each => {
      try {
        return { ...each, free: !(await context.sources.isRegistered(each.name)) }
      } catch (error) {
        if (!(error instanceof SourceError)) throw error
        return { ...each, free: null }
      }
    }),
  )
}
