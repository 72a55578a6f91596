/**
 * A text as databases hold it: without the null character, and with the mark for "no character" (U+FFFD) where half of a pair stands that
 * would make one character. Most texts come back as they are. O(length).
 */
export function storableText(text: string): string {
  const clean = text.includes('\u0000') ? text.replaceAll('\u0000', '') : text
  return loneHalf.test(clean) ? clean.replace(loneHalves, '\ufffd') : clean
}

const half = '[\\ud800-\\udbff](?![\\udc00-\\udfff])|(?<![\\ud800-\\udbff])[\\udc00-\\udfff]'
const loneHalf = new RegExp(half)
const loneHalves = new RegExp(half, 'g')

/**
 * JSON as PostgreSQL's `jsonb` takes it: without escaped null characters and lone halves, which are valid JSON and refused there. `json`
 * is what `JSON.stringify` gives, which escapes lone halves. O(length).
 */
export function storableJson(json: string): string {
  if (!/\\u(?:0000|d[89a-f])/i.test(json)) return json
  return json.replace(/\\(?:u(0000|d[89a-f][0-9a-f]{2})|.)/gis, (found, code?: string) =>
    code === undefined ? found : code === '0000' ? '' : '\\ufffd',
  )
}
