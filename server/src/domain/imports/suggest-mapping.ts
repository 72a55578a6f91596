import { importFields, type ImportKind } from '@dew-trail/contract/imports'

/** Words that column names of each field tend to hold, strongest first. */
const hints: Record<string, RegExp[]> = {
  phrase: [
    /^(keyword|phrase|query|search term|suchbegriff|begriff)s?$/i,
    /keyword|query|phrase|search term|suchbegriff/i,
  ],
  searches: [/^(searches|volume|search volume|avg\.? monthly searches|suchvolumen)$/i, /volume|searches|suchanfragen/i],
  cpc: [/^cpc$/i, /cpc|cost per click|bid|gebot/i],
  competition: [/^(competition|wettbewerb)$/i, /compet|wettbewerb/i],
  date: [/^(date|day|datum|tag)$/i, /date|datum/i],
  place: [/^(position|rank|place|platz|average position)$/i, /position|rank/i],
  impressions: [/^(impressions|impressionen)$/i, /impress/i],
  clicks: [/^(clicks|klicks)$/i, /click|klick/i],
  url: [/^(url|page|landing page|address|seite)$/i, /url|landing|page/i],
  engine: [/^(engine|search engine|suchmaschine)$/i, /engine/i],
  country: [/^(country|place|location|land|ort)$/i, /country|location/i],
  language: [/^(language|lang|sprache)$/i, /lang|sprache/i],
  rank: [/^(rank|position|place|platz)$/i, /rank|position/i],
  domain: [/^(domain|site|host|website)$/i, /domain|site|host|url/i],
  theme: [/^(theme|group|topic|cluster|thema|gruppe)$/i, /theme|group|topic|cluster|thema|gruppe/i],
  source: [/^(source|source url|linking page|referring page|from)$/i, /source|referring|linking|from/i],
  target: [/^(target|target url|linked page|to)$/i, /target|linked|destination/i],
  anchor: [/^(anchor|anchor text|text|ankertext)$/i, /anchor/i],
  rel: [/^(rel|link type|nofollow)$/i, /\brel\b|follow/i],
  linkKind: [/^(kind|type|link kind)$/i, /kind|type/i],
  firstSeen: [/^(first seen|first_seen|found|discovered)$/i, /first|found|discover/i],
  lastSeen: [/^(last seen|last_seen|last checked)$/i, /last/i],
  device: [/^(device|gerät)$/i, /device|gerät/i],
}

/** The likely column (0-based) of each field, by the header's names; no column is used twice. */
export function suggestMapping(kind: ImportKind, header: string[]): Record<string, number> {
  const mapping: Record<string, number> = {}
  const used = new Set<number>()
  for (const round of [0, 1]) {
    for (const { key } of importFields[kind]) {
      if (mapping[key] !== undefined) continue
      const at = header.findIndex((name, i) => !used.has(i) && hints[key]![round]!.test(name.trim()))
      if (at < 0) continue
      mapping[key] = at
      used.add(at)
    }
  }
  return mapping
}
