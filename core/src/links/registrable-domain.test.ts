import { expect, test } from 'vitest'
import { registrableDomain } from './registrable-domain.ts'

test.each([
  ['https://www.clay.example/a?b#c', 'clay.example'],
  ['http://clay.example:8080/', 'clay.example'],
  ['shop.clay.example', 'clay.example'],
  ['notclay.example', 'notclay.example'],
  ['https://kiln.github.io/x', 'kiln.github.io'],
  ['a.kiln.github.io', 'kiln.github.io'],
  ['github.io', 'github.io'],
  ['https://www.clay.co.uk/', 'clay.co.uk'],
  ['http://127.0.0.1:4600/', '127.0.0.1'],
  ['http://[::1]/', '::1'],
  ['localhost', 'localhost'],
  ['https://xn--tpfer-jua.example/', 'xn--tpfer-jua.example'],
])('%s is of %s', (address, domain) => expect(registrableDomain(address)).toBe(domain))
