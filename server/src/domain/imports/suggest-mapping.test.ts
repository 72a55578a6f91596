import { expect, test } from 'vitest'
import { suggestMapping } from './suggest-mapping.ts'

/** What each column of a header is taken for. */
const taken = (kind: Parameters<typeof suggestMapping>[0], header: string): Record<string, string> => {
  const names = header.split(';')
  return Object.fromEntries(Object.entries(suggestMapping(kind, names)).map(([key, at]) => [key, names[at]!]))
}

test('columns are found by their names, in English and German', () => {
  expect(taken('keywords', 'Notes;Keyword;Search volume;CPC')).toEqual({
    phrase: 'Keyword',
    searches: 'Search volume',
    cpc: 'CPC',
  })
  expect(taken('keywords', 'Notiz;Suchbegriff;Suchvolumen;Klickpreis')).toEqual({
    phrase: 'Suchbegriff',
    searches: 'Suchvolumen',
    cpc: 'Klickpreis',
  })
  expect(taken('log', 'Tag;Suchanfrage;Seite;Land;Gerät;Klicks;Impressionen;Position')).toEqual({
    date: 'Tag',
    phrase: 'Suchanfrage',
    url: 'Seite',
    country: 'Land',
    device: 'Gerät',
    clicks: 'Klicks',
    impressions: 'Impressionen',
    position: 'Position',
  })
  expect(taken('links', 'Quelle;Ziel;Linktext;Zuletzt gesehen')).toMatchObject({
    source: 'Quelle',
    target: 'Ziel',
    anchor: 'Linktext',
    lastSeen: 'Zuletzt gesehen',
  })
})

test('a number of searches is not taken for the search itself, and no column is used twice', () => {
  expect(taken('keywords', 'Suchanfragen pro Monat;Begriff')).toEqual({
    phrase: 'Begriff',
    searches: 'Suchanfragen pro Monat',
  })
  expect(taken('keywords', 'a;b;c')).toEqual({})
})
