import { describe, expect, test } from 'vitest'
import { siteTree, top, type TreePage } from './site-tree.ts'

const page = (identity: string | null, more: Partial<TreePage> = {}): TreePage => ({
  key: identity ?? 'none',
  identity,
  parent: null,
  weight: 0,
  name: identity ?? 'none',
  ...more,
})
/** The rows as lines, each indented by its depth. */
const lines = (pages: TreePage[]): string[] =>
  siteTree(pages).map(row => `${'  '.repeat(row.depth)}${row.folder === null ? row.key : `[${row.folder}]`}`)

describe('a tree of pages', () => {
  test('puts each page below the longest path that its own goes on from, the home page first', () => {
    expect(
      lines([
        page('a.example/shop/kilns/small'),
        page('a.example/'),
        page('a.example/shop'),
        page('a.example/shop/kilns'),
        page('a.example/about/'),
      ]),
    ).toEqual([
      'a.example/',
      '  a.example/about/',
      '  a.example/shop',
      '    a.example/shop/kilns',
      '      a.example/shop/kilns/small',
    ])
  })
  test('makes a folder of a path that several pages stand in and that is no page', () => {
    expect(
      lines([page('a.example/'), page('a.example/g/one'), page('a.example/g/two'), page('a.example/h/only')]),
    ).toEqual(['a.example/', '  [a.example/g]', '    a.example/g/one', '    a.example/g/two', '  a.example/h/only'])
  })
  test('orders siblings by all that is below them, then by name', () => {
    expect(
      lines([
        page('a.example/'),
        page('a.example/b', { weight: 5 }),
        page('a.example/a', { weight: 1 }),
        page('a.example/a/x', { weight: 9 }),
        page('a.example/c', { weight: 5 }),
      ]),
    ).toEqual(['a.example/', '  a.example/a', '    a.example/a/x', '  a.example/b', '  a.example/c'])
  })
  test('a page stands where somebody put it; a page without an address stands below the home page', () => {
    const pages = [
      page('a.example/'),
      page('a.example/g/one', { parent: 'plan:1' }),
      page('a.example/g/two', { parent: top }),
      page(null, { key: 'plan:1', name: 'Planned' }),
    ]
    expect(lines(pages)).toEqual(['a.example/', '  plan:1', '    a.example/g/one', '  a.example/g/two'])
  })
  test('passes over what would make a page its own ancestor', () => {
    const pages = [
      page('a.example/'),
      page('a.example/x', { parent: 'a.example/y' }),
      page('a.example/y', { parent: 'a.example/x' }),
    ]
    expect(lines(pages)).toEqual(['a.example/', '  a.example/y', '    a.example/x'])
  })
  test('an address with a query stands below the one without, other hosts below the home page', () => {
    expect(
      lines([
        page('a.example/'),
        page('a.example/s'),
        page('a.example/s?page=2'),
        page('blog.a.example/'),
        page('blog.a.example/post'),
      ]),
    ).toEqual(['a.example/', '  a.example/s', '    a.example/s?page=2', '  blog.a.example/', '    blog.a.example/post'])
  })
  test('has a row for each page without a home page too, eight deep, and none for nothing', () => {
    const deep = Array.from({ length: 8 }, (_, i) =>
      page(`a.example/${Array.from({ length: i + 1 }, (__, j) => j).join('/')}`),
    )
    expect(siteTree(deep).map(row => row.depth)).toEqual([0, 1, 2, 3, 4, 5, 6, 7])
    expect(siteTree([])).toEqual([])
  })
})
