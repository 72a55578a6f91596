import { kindGroups } from '@dew-trail/core/words/kind-groups'
import { keywordKinds, type KeywordKind } from '@dew-trail/core/words/keyword-kind'
import { type KeyboardEvent, useEffect, useMemo, useRef, useState } from 'react'
import { kindLabels } from '../../keywords/column-parts.tsx'
import type { WholeSource } from '../../rows/row-source.ts'
import { formatWhole, plural } from '../../ui/format.ts'
import { setParam, useAddress } from '../../ui/use-address.ts'
import { layOutLanes } from './lanes-layout.ts'
import { type ClickDoes, PhraseFrame } from './PhraseFrame.tsx'
import { mostRead, type PicturePhrase, usePhrases, usePictureColours } from './use-phrases.ts'

const mostDrawn = 400
const longestLabel = 38

const underWhat: Record<KeywordKind, string> = {
  question: 'Questions under their question words',
  comparison: 'Comparisons under the words that compare',
  preposition: 'Keywords under their prepositions',
  completion: 'Completions by the letter they go on with',
  related: 'Other keywords by the letter of what they have beside the seed',
}

type Props = {
  /** The gathering that is looked at, null = several or none. */
  seed: string | null
  /** How many keywords of each kind the list shows; null while they are counted. */
  kinds: Record<string, number> | null
  language: string
  source: WholeSource
  fileName: string
  onKeep(ids: number[]): void
  onGather(ids: number[]): void
}

/** Phrases of one kind at a time under the words that make them of it, a lane a word. The arrow keys walk them; Enter does what a click does. */
export default function KindLanesView({ seed, kinds, language, source, fileName, onKeep, onGather }: Props) {
  const { phrases, kept, total } = usePhrases(source)
  const [params, changeAddress] = useAddress()
  const [clickDoes, setClickDoes] = useState<ClickDoes>('keep')
  const [active, setActive] = useState<string | null>(null)
  const picture = useRef<SVGSVGElement>(null)
  const box = useRef<HTMLDivElement>(null)
  const [room, setRoom] = useState(900)
  const [open, setOpen] = useState<ReadonlySet<string>>(new Set())
  const colours = usePictureColours()
  useEffect(() => {
    const observer = new ResizeObserver(([entry]) => setRoom(Math.round(entry!.contentRect.width)))
    if (box.current) observer.observe(box.current)
    return () => observer.disconnect()
  }, [])
  const counts = useMemo(() => {
    const by = new Map<string, number>()
    for (const each of phrases) by.set(each.kind, (by.get(each.kind) ?? 0) + 1)
    return by
  }, [phrases])
  const asked = params.get('kindOf')
  const kind = keywordKinds.find(each => each === asked) ?? keywordKinds.find(each => counts.get(each)) ?? 'question'
  const { layout, listed } = useMemo(() => {
    const best = phrases.filter(each => each.kind === kind).sort((a, b) => (b.weight ?? -1) - (a.weight ?? -1))
    return { layout: layOutLanes(kindGroups(best.slice(0, mostDrawn), kind, language, seed), room, open), listed: best }
  }, [phrases, kind, language, seed, room, open])
  const act = (ids: number[]): void => (clickDoes === 'keep' ? onKeep(ids) : onGather(ids.slice(0, 1)))
  // A lane is walked from its word along its phrases, then the next lane.
  const keys = layout.lanes.map((lane, i) => [
    `word ${i}`,
    ...lane.phrases.map(each => String(each.phrase.id)),
    ...(lane.more ? [`more ${i}`] : []),
  ])
  const first = keys.flat().find(key => key === active) ?? keys[0]?.[0]
  const onKeyDown = (event: KeyboardEvent, lane: number, at: number, run: () => void): void => {
    const next: Record<string, string | undefined> = {
      ArrowRight: keys[lane]![at + 1] ?? keys[lane + 1]?.[0],
      ArrowLeft: keys[lane]![at - 1] ?? keys[lane - 1]?.at(-1),
      ArrowDown: keys[lane + 1]?.[0],
      ArrowUp: at ? keys[lane]![0] : keys[lane - 1]?.[0],
      Home: keys[0]?.[0],
      End: keys.at(-1)?.at(-1),
    }
    if (event.key in next) {
      event.preventDefault()
      const key = next[event.key]
      if (key === undefined) return
      setActive(key)
      picture.current?.querySelector<SVGGElement>(`[data-key="${key}"]`)?.focus()
    } else if (event.key === 'Enter' || event.key === ' ') {
      event.preventDefault()
      run()
    }
  }
  const item = (lane: number, at: number, run: () => void) => ({
    'data-key': keys[lane]![at]!,
    role: 'treeitem',
    'aria-level': at ? 2 : 1,
    tabIndex: keys[lane]![at] === first ? 0 : -1,
    onClick: run,
    onFocus: () => setActive(keys[lane]![at]!),
    onKeyDown: (event: KeyboardEvent) => onKeyDown(event, lane, at, run),
  })
  return (
    <PhraseFrame
      intro={
        <span role="radiogroup" aria-label="Kind of keyword" className="word-tree-does">
          {keywordKinds.map(each => (
            <button
              key={each}
              type="button"
              role="radio"
              aria-checked={kind === each}
              className="link"
              onClick={() => changeAddress(setParam('kindOf', each))}
            >
              {kindLabels[each]}{' '}
              <small className="quiet" style={{ marginLeft: 4 }}>
                {formatWhole(kinds?.[each] ?? counts.get(each) ?? 0)}
              </small>
            </button>
          ))}
        </span>
      }
      clickDoes={clickDoes}
      onClickDoes={setClickDoes}
      picture={picture}
      width={layout.width}
      height={layout.height}
      fileName={`${fileName}-${kind}`}
      listed={listed}
      kept={kept}
      onPhrase={id => act([id])}
      boxRef={box}
    >
      {total > mostRead && (
        <p className="quiet" style={{ margin: '0 16px' }}>
          Drawn from the first {formatWhole(mostRead)} of {formatWhole(total)} as they are ordered. Conditions, such as
          a kind at the left, bring others in.
        </p>
      )}
      {listed.length ? (
        <svg
          ref={picture}
          role="tree"
          aria-label={`${underWhat[kind]}; longer bars are searched more`}
          width={layout.width}
          height={layout.height}
          viewBox={`0 0 ${layout.width} ${layout.height}`}
          fontFamily="Hanken Grotesk Variable, system-ui, sans-serif"
          fontSize={12}
        >
          {layout.lanes.map(({ group, y, height, phrases: placed, more }, lane) => (
            <g key={group.word}>
              <line x1={16} x2={layout.width - 16} y1={y + height + 6} y2={y + height + 6} stroke={colours.line} />
              <g {...item(lane, 0, () => act(group.phrases.map(each => each.id)))} aria-label={laneText(group)}>
                <title>{`${clickDoes === 'keep' ? `Keep ${formatWhole(group.phrases.length)}` : 'Gather from the most searched'}; ${laneText(group)}`}</title>
                <text x={16} y={y + 14} fontSize={14} fontWeight={640} fill={colours.ink}>
                  {group.word}
                </text>
                {height > 22 && (
                  <text x={16} y={y + 31} fontSize={11} fill={colours.ink2}>
                    {plural(group.phrases.length, 'keyword')}
                    {height > 44 && (
                      <tspan x={16} dy={17}>
                        {group.weight === null ? 'searches unknown' : `${formatWhole(group.weight)} searches`}
                      </tspan>
                    )}
                  </text>
                )}
              </g>
              {placed.map(({ phrase, x, y: top, bar, width }, i) => (
                <g key={phrase.id} {...item(lane, i + 1, () => act([phrase.id]))} aria-label={phraseText(phrase, kept)}>
                  <title>{phraseText(phrase, kept)}</title>
                  <rect x={x} y={top} width={width} height={19} fill="transparent" />
                  {bar > 0 && <rect x={x} y={top} width={bar} height={19} rx={3} fill={colours.soft} />}
                  <text
                    x={x + 6}
                    y={top + 14}
                    fill={kept.has(phrase.id) ? colours.lagoon : colours.ink}
                    fontWeight={kept.has(phrase.id) ? 640 : 400}
                  >
                    {phrase.phrase.length > longestLabel ? `${phrase.phrase.slice(0, longestLabel)}…` : phrase.phrase}
                  </text>
                </g>
              ))}
              {more > 0 && (
                <g
                  {...item(lane, placed.length + 1, () => setOpen(new Set([...open, group.word])))}
                  aria-label={`${formatWhole(more)} more with ${group.word}`}
                >
                  <text x={16} y={y + 65} fontSize={11} fontWeight={640} fill={colours.lagoon}>
                    {formatWhole(more)} more
                  </text>
                </g>
              )}
            </g>
          ))}
        </svg>
      ) : (
        <div className="empty">
          <h2>No keyword of this kind</h2>
          <p>Choose another kind above, take a condition away, or gather with question words among the ways.</p>
        </div>
      )}
    </PhraseFrame>
  )
}

const searchesText = (weight: number | null): string =>
  weight === null ? 'searches unknown' : `${formatWhole(weight)} searches a month`
const phraseText = ({ id, phrase, weight }: PicturePhrase, kept: ReadonlySet<number>): string =>
  `${phrase}, ${searchesText(weight)}${kept.has(id) ? ', kept' : ''}`
type Summed = { word: string; phrases: readonly unknown[]; weight: number | null }
const laneText = ({ word, phrases, weight }: Summed): string =>
  `${word}: ${plural(phrases.length, 'keyword')}, ${searchesText(weight)}`
