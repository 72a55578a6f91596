import { expect, test } from 'vitest'
import { namedShares, namedSite } from './named-site.ts'

const home = (domain: string, url = `https://www.${domain}/`): { url: string; domain: string } => ({ url, domain })

test.each([
  ['clay harbour kilns', 'clayharbour.example'],
  ['Clay Harbour', 'clay-harbour.example'],
  ['kilns of glazeworks', 'glazeworks.example'],
  ['stall & co mugs', 'stallandco.example'],
  ["potter's parcel opening hours", 'potters-parcel.example'],
])('%s names %s', (keyword, domain) => {
  expect(namedSite(keyword, home(domain))).toBe(domain)
})

test.each([
  ['other words', 'kiln price', home('clayharbour.example')],
  ['a part of the name', 'clay', home('clayharbour.example')],
  ['words that are not side by side', 'clay in the harbour', home('clayharbour.example')],
  ['a page inside the site', 'clay harbour kilns', home('clayharbour.example', 'https://clayharbour.example/kilns')],
  ['a short name', 'pot shop', home('pot.example')],
  ['an empty page', 'clay harbour', undefined],
])('%s name no site', (_, keyword, first) => {
  expect(namedSite(keyword, first)).toBeNull()
})

test('all pages of the named site are told from the others, and nothing is told where none is named', () => {
  const results = [
    home('clayharbour.example'),
    home('glazeworks.example'),
    home('clayharbour.example', 'https://clayharbour.example/kilns'),
  ]
  expect(namedShares('clay harbour kilns', results)).toEqual([100, 0, 100])
  expect(namedShares('kiln price', results)).toEqual([null, null, null])
  expect(namedShares('kiln price', [])).toEqual([])
})
