import { importFields, type ImportKind } from '@dew-trail/contract/imports'

/** Words that column names of each field tend to hold, strongest first. */
const hints: Record<string, RegExp[]> = {
  phrase: [
    /^((keyword|phrase|query|search term)s?|suchbegriffe?|begriffe?|suchanfrage|suchwort|suchwörter)$/i,
    /keyword|query|phrase|search term|suchbegriff|suchwort|suchanfrage(?!n)/i,
  ],
  searches: [
    /^(searches|volume|search volume|avg\.? monthly searches|suchvolumen)$/i,
    /volume|searches|suchvolumen|suchanfragen/i,
  ],
  cpc: [/^cpc$/i, /cpc|cost per click|bid|gebot|klickpreis|preis (pro|je) klick/i],
  competition: [/^(competition|wettbewerb)$/i, /compet|wettbewerb/i],
  date: [/^(date|day|datum|tag)$/i, /date|datum/i],
  position: [/^(position|rank|place|platz|rang|average position)$/i, /position|rank|platz|rang/i],
  impressions: [/^(impressions|impressionen)$/i, /impress/i],
  clicks: [/^(clicks|klicks)$/i, /click|klick/i],
  url: [/^(url|page|landing page|address|seite|adresse)$/i, /url|landing|page|seite/i],
  engine: [/^(engine|search engine|suchmaschine)$/i, /engine|suchmaschine/i],
  country: [/^(country|place|location|land|ort)$/i, /country|location|land$/i],
  language: [/^(language|lang|sprache)$/i, /lang|sprache/i],
  rank: [/^(rank|position|place|platz|rang)$/i, /rank|position|platz|rang/i],
  domain: [/^(domain|site|host|website)$/i, /domain|site|host|url/i],
  theme: [/^(theme|group|topic|cluster|thema|gruppe)$/i, /theme|group|topic|cluster|thema|gruppe/i],
  source: [
    /^(source|source url|linking page|referring page|from|quelle)$/i,
    /source|referring|linking|from|quelle|verweisend/i,
  ],
  target: [/^(target|target url|linked page|to|ziel)$/i, /target|linked|destination|ziel/i],
  anchor: [/^(anchor|anchor text|text|ankertext|linktext)$/i, /anchor|ankertext|linktext/i],
  rel: [/^(rel|link type|nofollow)$/i, /\brel\b|follow/i],
  linkKind: [/^(kind|type|link kind)$/i, /kind|type/i],
  firstSeen: [/^(first seen|first_seen|found|discovered)$/i, /first|found|discover|zuerst|entdeckt/i],
  lastSeen: [/^(last seen|last_seen|last checked)$/i, /last|zuletzt/i],
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
