import { describe, expect, test } from 'vitest'
import { readRobots } from './robots-rules.ts'

const allows = (text: string, path: string, token = 'DewTrailBot'): boolean =>
  readRobots(text, token).allows(`http://clay.example${path}`)
const rules = (...lines: string[]): string => `User-agent: *\n${lines.join('\n')}\n`

describe('rules', () => {
  test.each([
    ['Disallow: /', '/a', false],
    ['Disallow:', '/a', true],
    ['Disallow: /a', '/ab', false],
    ['Disallow: /a', '/b', true],
    ['Disallow: /a/', '/a', true],
    ['Disallow: /*.php', '/x/y.php?z', false],
    ['Disallow: /*.php$', '/x/y.php?z', true],
    ['Disallow: /*.php$', '/x/y.php', false],
    ['Disallow: /a*b*c$', '/abxbc', false],
    ['Disallow: /a*b*c$', '/abxbcd', true],
    ['Disallow: *', '/a', false],
    ['Disallow: a', '/a', true],
    ['Disallow: /$', '/', false],
    ['Disallow: /$', '/a', true],
    ['Disallow: /a$b', '/a$b', false],
    ['disallow : /a # remark', '/ab', false],
    ['Disallow: /x[1]', '/x[1]', false],
    ['Disallow: /x[1]', '/x1', true],
    ['Disallow: /{id}|(y)+?', '/{id}|(y)+?z', false],
    ['Disallow: /x%5B1%5D', '/x[1]', false],
    ['Disallow: /x[1]', '/x%5b1%5d', false],
    ['Disallow: /t%C3%B6pfer', '/töpfer', false],
    ['Disallow: /töpfer', '/t%c3%b6pfer', false],
    ['Disallow: /%7Ejoe', '/~joe', false],
    ['Disallow: /~joe', '/%7Ejoe', false],
    ['Disallow: /a%2Fb', '/a/b', true],
    ['Disallow: /a%2Fb', '/a%2fb', false],
    ['Disallow: /s?u=http://x', '/s?u=http%3A%2F%2Fx', false],
    ['Disallow: /%2A', '/*', false],
    ['Disallow: /%2A', '/abc', true],
    ['Disallow: /🏺', '/%F0%9F%8F%BA', false],
    ['Disallow: /100%', '/100%25', false],
    ['Disallow: /robots', '/robots.txt', true],
  ])('%s: %s may be asked: %s', (line, path, allowed) => expect(allows(rules(line), path)).toBe(allowed))
  test('the longest match counts, an allowing one among equals', () => {
    expect(allows(rules('Allow: /p', 'Disallow: /'), '/page')).toBe(true)
    expect(allows(rules('Disallow: /folder', 'Allow: /folder'), '/folder/page')).toBe(true)
    expect(allows(rules('Allow: /page', 'Disallow: /*.htm'), '/page.htm')).toBe(false)
    expect(allows(rules('Allow: /$', 'Disallow: /'), '/')).toBe(true)
    expect(allows(rules('Disallow: /a', 'Allow: /ab', 'Disallow: /abc'), '/abcd')).toBe(false)
  })
  test('a pattern of many stars is answered at once', () => {
    const line = `Disallow: /${'*a'.repeat(2_000)}b`
    expect(allows(rules(line), `/${'a'.repeat(1_900)}`)).toBe(true)
  })
})

describe('groups', () => {
  test('ours counts before that for all, whatever its letters and what stands behind the token', () => {
    for (const name of ['DewTrailBot', 'dewtrailbot', 'DewTrailBot/0.1', 'DewTrailBot (test)', 'DewTrailBot 2'])
      expect(allows(`User-agent: *\nDisallow: /\nUser-agent: ${name}\nDisallow: /x\n`, '/y'), name).toBe(true)
    expect(allows('User-agent: DewTrailBotX\nDisallow: /\n', '/y')).toBe(true)
    expect(allows('User-agent: *\nDisallow: /\nUser-agent: other\nAllow: /\n', '/y')).toBe(false)
  })
  test('of one name are taken together', () => {
    const text =
      'User-agent: DewTrailBot\nDisallow: /a\n\nUser-agent: other\nDisallow: /\n\nUser-agent: DewTrailBot\nDisallow: /b\n'
    expect([allows(text, '/a'), allows(text, '/b'), allows(text, '/c')]).toEqual([false, false, true])
  })
  test('are not parted by sitemaps, waits, remarks, blank or unknown lines', () => {
    const text =
      'User-agent: DewTrailBot\nSitemap: http://clay.example/s.xml\nCrawl-delay: 2.5\n\n# x\nHost: clay.example\nUser-agent: other\nDisallow: /a\nSitemap: http://clay.example/t.xml#2\nDisallow: /b\n'
    const read = readRobots(text, 'DewTrailBot')
    expect([allows(text, '/a'), allows(text, '/b'), allows(text, '/c')]).toEqual([false, false, true])
    expect(read.crawlDelay).toBe(2.5)
    expect(read.sitemaps).toEqual(['http://clay.example/s.xml', 'http://clay.example/t.xml#2'])
    expect(allows(text, '/a', 'other')).toBe(false)
  })
  test('rules before any group, and files that are no robots.txt, forbid nothing', () => {
    expect(allows('Disallow: /\n', '/a')).toBe(true)
    expect(allows('<html><body>User-agent: *</body></html>', '/a')).toBe(true)
    expect(allows('', '/a')).toBe(true)
  })
  test('line ends of any kind and a mark of byte order are read', () => {
    expect(allows('\ufeffUser-agent: *\rDisallow: /a\r', '/a')).toBe(false)
    expect(allows('User-agent: *\r\nDisallow: /a\r\n', '/a')).toBe(false)
  })
  test('of a large file the first 500 KiB count', () => {
    const filler = '# remark of some letters\n'.repeat(8_000)
    expect(allows(`${filler}User-agent: *\nDisallow: /a\n`, '/a')).toBe(false)
    expect(allows(`User-agent: *\nDisallow: /a\n${filler.repeat(10)}Disallow: /b\n`, '/b')).toBe(true)
  })
})
