import type { Batch, CellValue } from '@dew-trail/core/tables/column-spec'
import { keywordColumns } from '@dew-trail/contract/gather'

const plain =
  'kiln wheel clay glaze home small electric beginner kit price best cheap used mini pottery stoneware porcelain raku bisque firing slab coil pinch mug bowl plate vase tool brush studio class course near port hallow wexmere kids adults ideas recipe'.split(
    ' ',
  )

const tails = [
  '',
  's',
  'er',
  'ing',
  'y',
  'less',
  'ful',
  'work',
  'house',
  'craft',
  'wright',
  'stone',
  'ware',
  'field',
  'ton',
  'ley',
  'ford',
  'more',
  'well',
  'mere',
]
/** A vocabulary of the size that a hundred thousand keywords of one subject have. */
const words = plain.flatMap(word => tails.map(tail => word + tail))

/** Made-up keyword rows, the same every time. */
export function makeBatch(count: number): Batch {
  let seed = 9
  const random = (below: number): number => {
    seed = (seed * 48271) % 2147483647
    return seed % below
  }
  const columns: Record<string, CellValue[]> = Object.fromEntries(
    keywordColumns.map(({ key }) => [key, new Array<CellValue>(count).fill(null)]),
  )
  const ids = Array.from({ length: count }, (_, i) => i + 1)
  for (let i = 0; i < count; i++) {
    const searches = random(9) ? Math.round(10 * 1.22 ** random(38)) : null
    const set = (key: string, value: CellValue): void => {
      columns[key]![i] = value
    }
    set(
      'phrase',
      `${Array.from({ length: 3 + random(3) }, () => words[random(4) ? random(40) * tails.length : random(words.length)]).join(' ')}`,
    )
    set('kind', ['question', 'comparison', 'preposition', 'completion', 'related'][random(5)]!)
    set('intent', ['learn', 'compare', 'buy', 'near'][random(4)]!)
    set('intentShare', 0.7)
    set('words', 4)
    set('searches', searches)
    set(
      'months',
      searches === null ? null : Array.from({ length: 12 }, () => Math.round(searches * (0.6 + random(80) / 100))),
    )
    set('monthsEnd', '2026-10')
    set('cpc', searches === null ? null : random(400) / 100)
    set('competition', random(100) / 100)
    set('demandState', searches === null ? 'nothing' : 'known')
    set('kept', random(12) === 0)
    set('difficulty', random(3) ? null : random(100))
    set('cameFrom', 'ads')
    set('tracked', false)
    set('gatherings', '')
  }
  return { ids, columns }
}
