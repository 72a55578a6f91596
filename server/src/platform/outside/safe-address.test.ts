import { hostname } from 'node:os'
import { describe, expect, test } from 'vitest'
import { readConfig } from '../config.ts'
import { AddressGuard, isSafeIp, readRanges } from './safe-address.ts'

const none = readRanges('')

test.each([
  ['127.0.0.1', false],
  ['10.1.2.3', false],
  ['172.20.0.1', false],
  ['192.168.1.1', false],
  ['169.254.169.254', false],
  ['100.64.0.1', false],
  ['0.0.0.0', false],
  ['198.18.0.1', false],
  ['198.19.255.255', false],
  ['192.0.0.8', false],
  ['203.0.113.9', false],
  ['224.0.0.1', false],
  ['255.255.255.255', false],
  ['::1', false],
  ['::', false],
  ['::7f00:1', false],
  ['::10.0.0.1', false],
  ['fe80::1', false],
  ['fe80::1%lo', false],
  ['fec0::1', false],
  ['fd00::1', false],
  ['ff02::1', false],
  ['100::1', false],
  ['64:ff9b::7f00:1', false],
  ['64:ff9b:1::1', false],
  ['::ffff:127.0.0.1', false],
  ['::ffff:93.184.216.34', false],
  ['2001:db8::1', false],
  ['2001::1', false],
  ['2002:7f00:1::', false],
  ['3fff::1', false],
  ['4000::1', false],
  ['93.184.216.34', true],
  ['198.20.0.1', true],
  ['2606:2800:220:1::1', true],
  ['2a00::1', true],
  ['no address', false],
])('%s may be asked: %s', (address, safe) => {
  expect(isSafeIp(address, none)).toBe(safe)
})

test('the configuration may allow ranges, and says when it cannot read them', () => {
  expect(isSafeIp('10.1.2.3', readRanges('10.0.0.0/8, ::1/128'))).toBe(true)
  expect(isSafeIp('::1', readRanges('10.0.0.0/8, ::1/128'))).toBe(true)
  expect(isSafeIp('192.168.1.1', readRanges('10.0.0.0/8'))).toBe(false)
  for (const CRAWL_ALLOW_PRIVATE of ['everything', '10.0.0.0', '10.0.0.0/99', '10.0.0.0/8/8'])
    expect(() => readConfig({ DATABASE_URL: 'postgres://x', CRAWL_ALLOW_PRIVATE })).toThrow('CRAWL_ALLOW_PRIVATE')
})

describe('a host', () => {
  const check = (url: string, proxy: boolean, allowed = '', names: Record<string, string[]> = {}) =>
    new AddressGuard(readRanges(allowed), async host => names[host] ?? []).check(new URL(url), proxy)

  test('whose name leads inside does not pass through a proxy; what only the proxy knows does', async () => {
    const names = { 'sly.example': ['93.184.216.34', '10.0.0.7'], 'good.example': ['93.184.216.34'] }
    await expect(check('http://sly.example/', true, '', names)).rejects.toThrow('leads to 10.0.0.7')
    await check('http://good.example/', true, '', names)
    await check('http://unknown.example/', true, '', names)
    await check('http://sly.example/', true, '10.0.0.0/8', names)
    await expect(check('http://sly.example/', true, '10.0.1.0/24', names)).rejects.toThrow('10.0.0.7')
  })
  test(`of an inner network is refused by its name, also
    where a private range is allowed, unless it lies in it`, async () => {
    for (const host of [
      'localhost',
      'printer.local',
      'intranet',
      'db.internal',
      'x.lan',
      'nas.home.arpa',
      'localhost.',
    ])
      for (const proxy of [true, false]) {
        await expect(check(`http://${host}/`, proxy)).rejects.toThrow('inner network')
        await expect(check(`http://${host}/`, proxy, '10.0.0.0/8')).rejects.toThrow('inner network')
        await expect(
          check(`http://${host}/`, proxy, '10.0.0.0/8', { [host.replace(/\.$/, '')]: ['192.168.0.1'] }),
        ).rejects.toThrow('192.168.0.1')
        await check(`http://${host}/`, proxy, '10.0.0.0/8', { [host.replace(/\.$/, '')]: ['10.0.0.1'] })
      }
  })
  test('of this machine is refused by what the system says of it', async () => {
    const guard = new AddressGuard(none)
    for (const host of ['localhost', hostname(), '127.0.0.1', '[::1]', '0x7f.1', '2130706433'])
      for (const proxy of [true, false])
        await expect(guard.check(new URL(`http://${host}/`), proxy), host).rejects.toThrow(
          /inner network|not a public address/,
        )
    const allowed = new AddressGuard(readRanges('10.0.0.0/8'))
    await expect(allowed.check(new URL('http://localhost/'), true)).rejects.toThrow('leads to')
  })
})
