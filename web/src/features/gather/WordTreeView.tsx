import { wordTree } from '@dew-trail/core/words/word-tree'
import { type KeyboardEvent, useEffect, useMemo, useRef, useState } from 'react'
import { formatWhole } from '../../ui/format.ts'
import { type ClickDoes, PhraseFrame } from './PhraseFrame.tsx'
import { mostRead, usePhrases, usePictureColours } from './use-phrases.ts'
import type { WholeSource } from '../../rows/row-source.ts'
import { labelOf, layOutTree, type PlacedNode } from './tree-layout.ts'

const mostPhrases = 300

type Props = {
  seed: string
  source: WholeSource
  fileName: string
  onKeep(ids: number[]): void
  onGather(ids: number[]): void
}

/** The phrases around a seed as a tree of words, with the plain list beside it. The arrow keys walk it; Enter does what a click does. */
export default function WordTreeView({ seed, source, fileName, onKeep, onGather }: Props) {
  const { phrases, kept, total } = usePhrases(source)
  const [clickDoes, setClickDoes] = useState<ClickDoes>('keep')
  const [active, setActive] = useState<string | null>(null)
  const picture = useRef<SVGSVGElement>(null)
  const { tree, layout, left, listed } = useMemo(() => {
    const whole = wordTree(seed, phrases)
    const best = [...phrases].sort((a, b) => (b.weight ?? -1) - (a.weight ?? -1))
    const withSeed = best.filter(each => wordTree(seed, [each]).phrases === 1)
    const shown = wordTree(seed, withSeed.slice(0, mostPhrases))
    return {
      tree: shown,
      layout: layOutTree(shown, seed),
      left: whole.left,
      listed: withSeed,
    }
  }, [seed, phrases])
  const byKey = useMemo(() => new Map(layout.nodes.map(node => [node.key, node])), [layout])
  const ids = (placed: PlacedNode): number[] => {
    const out: number[] = []
    const walk = (node: PlacedNode['node']): void => {
      if (node.id !== null) out.push(node.id)
      for (const child of node.children) walk(child)
    }
    walk(placed.node)
    return out
  }
  const act = (placed: PlacedNode): void => {
    if (clickDoes === 'keep') onKeep(ids(placed))
    else onGather(placed.node.id === null ? ids(placed).slice(0, 1) : [placed.node.id])
  }
  const focus = (key: string | null | undefined): void => {
    if (!key) return
    setActive(key)
    picture.current?.querySelector<SVGGElement>(`[data-key="${CSS.escape(key)}"]`)?.focus()
  }
  const onKeyDown = (event: KeyboardEvent, placed: PlacedNode): void => {
    const outwards = placed.side === 'after' ? 'ArrowRight' : 'ArrowLeft'
    const inwards = placed.side === 'after' ? 'ArrowLeft' : 'ArrowRight'
    const at = placed.siblings.indexOf(placed.key)
    const child = layout.nodes.find(each => each.parent === placed.key)?.key
    const other = layout.nodes.find(each => each.side !== placed.side && each.depth === 0)?.key
    const next: Record<string, string | null | undefined> = {
      ArrowDown: placed.siblings[at + 1] ?? placed.parent,
      ArrowUp: placed.siblings[at - 1] ?? placed.parent,
      [outwards]: child,
      [inwards]: placed.parent ?? other,
    }
    if (event.key in next) {
      event.preventDefault()
      focus(next[event.key])
    } else if (event.key === 'Enter' || event.key === ' ') {
      event.preventDefault()
      act(placed)
    }
  }
  const first = active !== null && byKey.has(active) ? active : layout.nodes[0]?.key
  const box = useRef<HTMLDivElement>(null)
  // The seed is what the eye looks for first.
  useEffect(() => {
    box.current?.scrollTo({
      top: layout.seedY - box.current.clientHeight / 2,
      left: layout.seedX + layout.seedWidth / 2 - box.current.clientWidth / 2,
    })
  }, [layout])
  const colours = usePictureColours()
  const most = Math.max(1, ...layout.nodes.map(each => each.node.weight ?? 0))
  return (
    <PhraseFrame
      intro={
        <span>
          <b>{formatWhole(listed.length)}</b> phrases around “{seed}”
          {listed.length > mostPhrases ? `, the ${mostPhrases} most searched drawn` : ''}
          {total > mostRead && <span className="quiet"> of the first {formatWhole(mostRead)} of the list</span>}
          {left ? <span className="quiet">; {formatWhole(left)} shown without these words in a row</span> : null}
        </span>
      }
      clickDoes={clickDoes}
      onClickDoes={setClickDoes}
      picture={picture}
      width={layout.width}
      height={layout.height}
      fileName={fileName}
      listed={listed}
      kept={kept}
      onPhrase={id => (clickDoes === 'keep' ? onKeep([id]) : onGather([id]))}
      boxRef={box}
    >
      {tree.phrases ? (
        <svg
          ref={picture}
          role="tree"
          aria-label={`Words around ${seed}`}
          width={layout.width}
          height={layout.height}
          viewBox={`0 0 ${layout.width} ${layout.height}`}
          fontFamily="Hanken Grotesk Variable, system-ui, sans-serif"
          fontSize={12}
        >
          {layout.nodes.map(placed => {
            const from =
              placed.parent === null
                ? { x: placed.side === 'after' ? layout.seedX + layout.seedWidth : layout.seedX, y: layout.seedY }
                : edgeOf(byKey.get(placed.parent)!)
            const half = (placed.x + from.x) / 2
            return (
              <path
                key={placed.key}
                d={`M${from.x} ${from.y} C${half} ${from.y} ${half} ${placed.y} ${placed.x} ${placed.y}`}
                fill="none"
                stroke={colours.line}
                strokeWidth={1 + 3 * ((placed.node.weight ?? 0) / most) ** 0.5}
              />
            )
          })}
          <rect
            x={layout.seedX}
            y={layout.seedY - 14}
            width={layout.seedWidth}
            height={28}
            rx={5}
            fill={colours.soft}
          />
          <text
            x={layout.seedX + layout.seedWidth / 2}
            y={layout.seedY + 5}
            textAnchor="middle"
            fontSize={14}
            fontWeight={640}
            fill={colours.ink}
          >
            {seed}
          </text>
          {layout.nodes.map(placed => (
            <g
              key={placed.key}
              data-key={placed.key}
              role="treeitem"
              aria-level={placed.depth + 1}
              aria-expanded={placed.node.children.length ? true : undefined}
              aria-label={`${placed.side === 'before' ? 'before' : 'after'}: ${placed.node.words}, ${placed.node.phrases} ${placed.node.phrases === 1 ? 'phrase' : 'phrases'}, ${placed.node.weight === null ? 'searches unknown' : `${formatWhole(placed.node.weight)} searches a month`}`}
              tabIndex={placed.key === first ? 0 : -1}
              onClick={() => act(placed)}
              onFocus={() => setActive(placed.key)}
              onKeyDown={event => onKeyDown(event, placed)}
            >
              <title>{`${placed.node.weight === null ? 'Searches unknown' : `${formatWhole(placed.node.weight)} searches a month`}; ${clickDoes === 'keep' ? `keep ${ids(placed).length}` : 'gather from it'}`}</title>
              <text
                x={placed.x + (placed.side === 'after' ? 4 : -4)}
                y={placed.y + 4}
                textAnchor={placed.side === 'after' ? 'start' : 'end'}
                fill={
                  placed.node.id !== null && kept.has(placed.node.id)
                    ? colours.lagoon
                    : placed.node.id === null
                      ? colours.ink2
                      : colours.ink
                }
                fontWeight={placed.node.id !== null && kept.has(placed.node.id) ? 640 : 400}
              >
                {labelOf(placed.node)}
              </text>
            </g>
          ))}
        </svg>
      ) : (
        <div className="empty">
          <h2>No phrase has “{seed}” and more words</h2>
          <p>Choose another seed at the left, or gather from this one.</p>
        </div>
      )}
    </PhraseFrame>
  )
}

/** Where the branches of a node begin: behind its words. */
const edgeOf = (placed: PlacedNode): { x: number; y: number } => {
  const width = labelOf(placed.node).length * 6.4 + 10
  return { x: placed.side === 'after' ? placed.x + width : placed.x - width, y: placed.y }
}
