import { readTarget } from '../rivals/target.ts'

/** A list of sites as engines take it: a line a site. */
export const writeDisavowList = (domains: readonly string[]): string =>
  domains.map(domain => `domain:${domain}\n`).join('')

/**
 * The sites that a disavow list names, each once, and the lines (from 1) that cannot be read. A line is "domain:" and a site, or the address
 * of a page, of which the site is taken; "#" begins a remark. O(length).
 */
export function readDisavowList(text: string): { domains: string[]; wrong: Array<{ line: number; text: string }> } {
  const domains = new Set<string>()
  const wrong: Array<{ line: number; text: string }> = []
  for (const [i, raw] of text.split(/\r\n|\n|\r/).entries()) {
    const line = raw.replace(/^\ufeff/, '').trim()
    if (!line || line.startsWith('#')) continue
    const target = readTarget(line.replace(/^domain:\s*/i, ''))
    if (target) domains.add(target.domain)
    else wrong.push({ line: i + 1, text: line })
  }
  return { domains: [...domains], wrong }
}
