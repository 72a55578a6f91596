/** Words and their meanings out of the table of docs/glossary.md, without its marks. */
export const wordsOf = (markdown: string): Array<{ word: string; meaning: string }> =>
  markdown.split('\n').flatMap(line => {
    const [, word = '', meaning = ''] = /^\| (\*\*.+?) \| (.+) \|$/.exec(line) ?? []
    return word ? [{ word: plain(word), meaning: plain(meaning) }] : []
  })

const plain = (text: string): string => text.replaceAll('**', '').replaceAll('`', '')
