import { expect, test } from 'vitest'
import { shareOfVoice, visitShares } from './share-of-voice.ts'

test('each site has its part of the visits, its keywords counted by the best result', () => {
  const voices = shareOfVoice([
    { keyword: 1, site: 'a.example', position: 1, visits: 60 },
    { keyword: 1, site: 'a.example', position: 12, visits: 2 },
    { keyword: 1, site: 'b.example', position: 2, visits: 30 },
    { keyword: 2, site: 'b.example', position: 8, visits: 8 },
    { keyword: 2, site: 'c.example', position: 15, visits: 0 },
  ])
  expect(voices).toEqual([
    { site: 'a.example', visits: 62, share: 0.62, within3: 1, within10: 1, within20: 1 },
    { site: 'b.example', visits: 38, share: 0.38, within3: 1, within10: 2, within20: 2 },
    { site: 'c.example', visits: 0, share: 0, within3: 0, within10: 0, within20: 1 },
  ])
})
test('without visits nothing is said', () => {
  expect(shareOfVoice([])).toEqual([])
  expect(shareOfVoice([{ keyword: 1, site: 'a.example', position: 1, visits: 0 }])).toEqual([])
})

test('the shares alone are those of the whole', () => {
  const results = Array.from({ length: 300 }, (_, i) => ({
    keyword: i % 20,
    site: `${(i * 7) % 11}.example`,
    position: 1 + (i % 20),
    visits: (i * 13) % 40,
  }))
  const shares = visitShares(results)
  for (const { site, share } of shareOfVoice(results)) expect(shares.get(site)).toBeCloseTo(share, 12)
  expect(visitShares([{ site: 'a.example', visits: 0 }])).toEqual(new Map())
})
