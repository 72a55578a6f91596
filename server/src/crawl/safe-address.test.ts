import { expect, test } from 'vitest'
import { readConfig } from '../config.ts'
import { isSafeIp, readRanges } from './safe-address.ts'

test.each([
  ['127.0.0.1', false],
  ['10.1.2.3', false],
  ['172.20.0.1', false],
  ['192.168.1.1', false],
  ['169.254.169.254', false],
  ['100.64.0.1', false],
  ['0.0.0.0', false],
  ['::1', false],
  ['fe80::1', false],
  ['fd00::1', false],
  ['::ffff:127.0.0.1', false],
  ['224.0.0.1', false],
  ['93.184.216.34', true],
  ['2606:2800:220:1::1', true],
  ['no address', false],
])('%s may be asked: %s', (address, safe) => {
  expect(isSafeIp(address, [])).toBe(safe)
})
test('the configuration may allow ranges, and says when it cannot read them', () => {
  expect(isSafeIp('10.1.2.3', readRanges('10.0.0.0/8, ::1/128'))).toBe(true)
  expect(isSafeIp('192.168.1.1', readRanges('10.0.0.0/8'))).toBe(false)
  expect(() => readConfig({ DATABASE_URL: 'postgres://x', CRAWL_ALLOW_PRIVATE: 'everything' })).toThrow(
    'CRAWL_ALLOW_PRIVATE',
  )
})
