import { expect, test } from 'vitest'
import { tidyTypedAddress, typedAddress } from './typed-address.ts'

test.each(['', 'kiln', 'two words.example', 'http://', '-a.example', 'a..example'])('%j is no address', text => {
  expect(typedAddress(text)).toBeNull()
  expect(tidyTypedAddress(text)).toBeNull()
})

test.each([
  [' https://www.Clay.example ', 'clay.example'],
  ['clay.example:8080', 'clay.example'],
  ['shop.clay.example/*', 'shop.clay.example'],
  ['http://clay.example/guides/', 'clay.example/guides/*'],
  ['clay.example/guides/*', 'clay.example/guides/*'],
  ['https://clay.example/guides/Kiln?a=1', 'clay.example/guides/Kiln?a=1'],
  ['clay.example/', 'clay.example/'],
])('%j is written %j', (text, tidy) => expect(tidyTypedAddress(text)).toBe(tidy))
