import { formulaStart } from '@dew-trail/core/tables/formula-start'
import Papa from 'papaparse'
import type { ReactNode, RefObject } from 'react'
import { themeColour } from '../../theme/theme-colour.ts'
import { download } from '../../ui/download.ts'
import { formatWhole } from '../../ui/format.ts'
import type { PicturePhrase } from './use-phrases.ts'

export type ClickDoes = 'keep' | 'gather'
const mostListed = 1_000

/** What stands around a picture of phrases: what it shows, what a click does, the ways to save it, and the same phrases as a list. */
export function PhraseFrame({
  intro,
  clickDoes,
  onClickDoes,
  picture,
  width,
  height,
  fileName,
  listed,
  kept,
  onPhrase,
  boxRef,
  children,
}: {
  intro: ReactNode
  clickDoes: ClickDoes
  onClickDoes(does: ClickDoes): void
  picture: RefObject<SVGSVGElement | null>
  width: number
  height: number
  fileName: string
  listed: readonly PicturePhrase[]
  kept: ReadonlySet<number>
  onPhrase(id: number): void
  boxRef?: RefObject<HTMLDivElement | null>
  children: ReactNode
}) {
  const saveSvg = (): void =>
    download(new Blob([svgText(picture.current!)], { type: 'image/svg+xml' }), `${fileName}.svg`)
  const savePng = async (): Promise<void> => {
    const image = new Image()
    const url = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svgText(picture.current!))}`
    await new Promise((resolve, reject) => {
      image.onload = resolve
      image.onerror = reject
      image.src = url
    })
    const canvas = document.createElement('canvas')
    canvas.width = width * 2
    canvas.height = height * 2
    const context = canvas.getContext('2d')!
    context.fillStyle = themeColour('paper')
    context.fillRect(0, 0, canvas.width, canvas.height)
    context.drawImage(image, 0, 0, canvas.width, canvas.height)
    canvas.toBlob(blob => blob && download(blob, `${fileName}.png`), 'image/png')
  }
  const saveCsv = (): void =>
    download(
      new Blob(
        [
          '\ufeff',
          Papa.unparse(
            { fields: ['Keyword', 'Searches'], data: listed.map(each => [each.phrase, each.weight ?? '']) },
            { escapeFormulae: formulaStart },
          ),
        ],
        { type: 'text/csv;charset=utf-8' },
      ),
      `${fileName}.csv`,
    )
  return (
    <div className="word-tree">
      <div className="word-tree-bar">
        {intro}
        <span role="radiogroup" aria-label="A click on words" className="word-tree-does">
          A click{' '}
          {(['keep', 'gather'] as const).map(what => (
            <button
              key={what}
              type="button"
              role="radio"
              aria-checked={clickDoes === what}
              className="link"
              onClick={() => onClickDoes(what)}
            >
              {what === 'keep' ? 'keeps' : 'gathers from it'}
            </button>
          ))}
        </span>
        <span style={{ display: 'flex', gap: 12, marginLeft: 'auto' }}>
          {listed.length > 0 && (
            <>
              <button type="button" className="link" onClick={() => void savePng()}>
                PNG
              </button>
              <button type="button" className="link" onClick={saveSvg}>
                SVG
              </button>
              <button type="button" className="link" onClick={saveCsv}>
                CSV
              </button>
            </>
          )}
        </span>
      </div>
      <div className="word-tree-both">
        <div className="word-tree-picture" ref={boxRef}>
          {children}
        </div>
        <ol className="word-tree-list" aria-label="The same phrases as a list">
          {listed.slice(0, mostListed).map(each => (
            <li key={each.id}>
              <button
                type="button"
                className={kept.has(each.id) ? 'link kept-row' : 'link'}
                onClick={() => onPhrase(each.id)}
              >
                {each.phrase}
              </button>
              <small className={each.weight === null ? 'unknown' : 'quiet'}>
                {each.weight === null ? 'unknown' : formatWhole(each.weight)}
              </small>
            </li>
          ))}
        </ol>
      </div>
    </div>
  )
}

function svgText(svg: SVGSVGElement): string {
  const copy = svg.cloneNode(true) as SVGSVGElement
  copy.setAttribute('xmlns', 'http://www.w3.org/2000/svg')
  return new XMLSerializer().serializeToString(copy)
}
