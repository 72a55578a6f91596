import type { Brief } from '@dew-trail/contract/brief'

/** A brief for tests: nothing written, and something of each kind on offer. */
export const madeBrief = (more: Partial<Brief> = {}): Brief => ({
  pageId: 4,
  language: 'en',
  lead: 'kiln price',
  resultsOn: '2026-11-20',
  text: {
    title: '',
    description: '',
    headings: [],
    terms: [],
    wordsFrom: null,
    wordsTo: null,
    links: [],
    remarks: '',
  },
  version: 0,
  offers: {
    headings: [
      { text: 'What size of kiln?', searches: 480, of: 'question' },
      { text: 'kiln for beginners', searches: null, of: 'keyword' },
    ],
    terms: [{ term: 'stilts', results: 9, marked: true }],
    results: 10,
    read: 4,
    words: { from: 800, to: 1_200, pages: 4 },
    links: [
      { from: 'https://kilnandtide.example/guides/firing', title: 'Firing', anchor: 'kiln price', searches: 1_200 },
    ],
    rivals: [{ url: 'https://clay.example/kilns', title: 'Kilns', position: 1, words: 900, own: false }],
    title: 'Choosing a kiln',
    address: '/kiln-price',
  },
  page: null,
  checks: [],
  ...more,
})
