import type { ScreenHelp } from '../../feature.ts'

const help: readonly ScreenHelp[] = [
  {
    path: 'gather',
    title: 'Gather',
    says: [
      'Find out what people search for. Type one to fifty seeds at the left, or give a site, a page, a pasted list, a file or your own query log; what is found comes in as it arrives.',
      'Filter by the bars at the left, or by conditions above the table; nothing is thrown away. Unfold a row for its months, its forms and its first page. Y keeps a keyword: kept ones go on to Weigh. “By words” draws a picture of each kind: questions under their question words, comparisons and prepositions under theirs.',
      'Searches are averages of twelve months from the ads data, which rounds them and gives one figure for forms of one keyword. A figure that is not known says so and can be asked for again.',
    ],
  },
]
export default help
