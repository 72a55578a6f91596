import { describe, expect, test } from 'vitest'
import { pageIdentity } from './page-identity.ts'

describe('addresses of one page', () => {
  test.each([
    ['http://clay.example/', 'clay.example/'],
    ['https://clay.example', 'clay.example/'],
    ['HTTPS://Clay.EXAMPLE:443/Glaze/../Kiln#top', 'clay.example/Kiln'],
    ['https://clay.example/a?utm_source=mail&b=1&UTM_Medium=x&gclid=9', 'clay.example/a?b=1'],
    ['https://clay.example/a?gclid=9', 'clay.example/a'],
    ['https://clay.example/a?b=2&a=1', 'clay.example/a?b=2&a=1'],
    ['https://clay.example/a?utmost=1&', 'clay.example/a?utmost=1'],
    ['http://clay.example:8080/a', 'clay.example:8080/a'],
    ['https://töpfer.example/ton', 'xn--tpfer-jua.example/ton'],
  ])('%s', (url, identity) => {
    expect(pageIdentity(url)).toBe(identity)
    expect(pageIdentity(`https://${identity}`)).toBe(identity)
  })
  test('hosts with and without www are two pages, a path keeps its case', () => {
    expect(pageIdentity('https://www.clay.example/A')).toBe('www.clay.example/A')
  })
  test('what no page has is none', () => {
    for (const url of ['', 'clay', 'mailto:a@clay.example', 'ftp://clay.example/', 'https://me:pw@clay.example/'])
      expect(pageIdentity(url)).toBeNull()
  })
})
