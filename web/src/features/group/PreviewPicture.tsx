import type { GroupMethod, Preview } from '@dew-trail/contract/group'
import type { KeyboardEvent } from 'react'
import { formatShare, formatWhole, plural } from '../../ui/format.ts'

const [width, height, base, top, step] = [376, 112, 92, 16, 40]

type Props = {
  previews: readonly Preview[]
  threshold: number
  method: GroupMethod
  kept: number | null
  onChoose(threshold: number): void
  onMethod(): void
}
/** Says what a threshold would make of the keywords, in words. */
export const previewText = (each: Preview): string =>
  each.possible
    ? `${plural(each.threshold, 'shared page')}: ${plural(each.themes, 'theme')}${each.searches === null ? '' : `, ${formatShare(each.searches)} of the searches in one`}`
    : `${plural(each.threshold, 'shared page')}: more than any keyword has results`

/** Themes by shared pages, with the share of the searches that stays alone. Arrow keys walk through the thresholds, up and down change the method. */
export function PreviewPicture({ previews, threshold, method, kept, onChoose, onMethod }: Props) {
  const shown = previews.filter(each => each.method === method)
  const most = Math.max(1, ...shown.map(each => each.themes))
  const now = shown.find(each => each.threshold === threshold)
  const possible = shown.filter(each => each.possible).map(each => each.threshold)
  const onKeyDown = (event: KeyboardEvent) => {
    const at = possible.indexOf(threshold)
    const next =
      event.key === 'ArrowRight' ? possible[at + 1] : event.key === 'ArrowLeft' ? possible[at - 1] : undefined
    if (next !== undefined) onChoose(next)
    else if (event.key === 'ArrowUp' || event.key === 'ArrowDown') onMethod()
    else if (event.key !== 'ArrowRight' && event.key !== 'ArrowLeft') return
    event.preventDefault()
  }
  const alone = shown
    .filter(each => each.possible && each.searches !== null)
    .map(each => `${18 + (each.threshold - 1) * step + 12},${base - (1 - each.searches!) * (base - top)}`)
  return (
    <div
      role="slider"
      tabIndex={0}
      className="preview-picture"
      aria-label="Shared pages asked for"
      aria-valuemin={1}
      aria-valuemax={9}
      aria-valuenow={threshold}
      aria-valuetext={now ? previewText(now) : undefined}
      onKeyDown={onKeyDown}
    >
      <svg viewBox={`0 0 ${width} ${height}`} width="100%" height={height} aria-hidden="true">
        {shown.map(each => {
          const x = 18 + (each.threshold - 1) * step
          const bar = each.possible ? Math.max(1, (each.themes / most) * (base - top)) : 0
          const is = each.threshold === threshold
          return (
            <g
              key={each.threshold}
              className={each.possible ? 'preview-bar' : undefined}
              onClick={() => each.possible && onChoose(each.threshold)}
            >
              <title>{previewText(each)}</title>
              <rect x={x - 8} y="0" width={step} height={height} fill="transparent" />
              <rect
                x={x}
                y={base - bar}
                width="24"
                height={bar}
                rx="2"
                fill={`var(--mui-palette-dew-${is ? 'lagoon' : 'scale1'})`}
              />
              {each.possible && (
                <text x={x + 12} y={base - bar - 4} textAnchor="middle" className="preview-count">
                  {formatWhole(each.themes)}
                </text>
              )}
              <text
                x={x + 12}
                y={base + 15}
                textAnchor="middle"
                className={is ? 'preview-here' : each.possible ? '' : 'preview-none'}
              >
                {each.threshold}
                {each.threshold === kept ? '·' : ''}
              </text>
            </g>
          )
        })}
        {alone.length > 1 && (
          <polyline
            points={alone.join(' ')}
            fill="none"
            stroke="var(--mui-palette-dew-ink2)"
            strokeWidth="1.5"
            strokeDasharray="4 3"
            pointerEvents="none"
          />
        )}
      </svg>
    </div>
  )
}
