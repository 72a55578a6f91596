import { describe, expect, test } from 'vitest'
import { namesReversed, vertexAddress } from './vertex-name.ts'

describe('vertices of a web graph', () => {
  test.each([
    ['clay.example', false, 'http://clay.example/'],
    ['example.clay.www', true, 'http://www.clay.example/'],
    ['https://Clay.example/Wheels#top', false, 'https://clay.example/Wheels'],
    ['https://clay.example/', true, 'https://clay.example/'],
    ['clay', false, null],
    ['not a host.example', false, null],
    ['', true, null],
  ])('%s, reversed %s, is %s', (name, reversed, address) => {
    expect(vertexAddress(name, reversed)).toBe(address)
  })
  test('the direction of names is told from where the few top-level domains stand', () => {
    expect(namesReversed(['example.clay', 'example.kiln.www', 'test.kiln', 'example.mud'])).toBe(true)
    expect(namesReversed(['clay.example', 'www.kiln.example', 'kiln.test', 'mud.example'])).toBe(false)
    expect(namesReversed(['https://clay.example/', 'https://kiln.example/'])).toBe(false)
    expect(namesReversed([])).toBe(false)
  })
})
