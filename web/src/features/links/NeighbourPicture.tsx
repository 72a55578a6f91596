import type { readNeighbourhood } from '@dew-trail/contract/link-lists'
import type { Drawing } from '@dew-trail/core/pictures/drawing'
import { useShownScheme } from '../../theme/use-shown-scheme.ts'
import cytoscape from 'cytoscape'
import { useEffect, useRef } from 'react'
import type { z } from 'zod'
import { colourOf, tenth } from '../../report-pieces/read-drawing.ts'
import { useShownPicture } from '../../report-pieces/shown-pieces.ts'

type Props = z.output<typeof readNeighbourhood.output>
const [height, least, span, margin] = [420, 8, 22, 48]
const colourNames = ['scale3', 'rival1', 'rival3', 'rival5', 'rival2', 'rival4'] as const

/** Stretches what was laid out over the whole box, so that dots and words keep their size. */
function fillBox(drawn: cytoscape.Core): void {
  const { x1, x2, y1, y2 } = drawn.nodes().boundingBox({ includeLabels: false })
  const [across, down] = [drawn.width() - 2 * margin, drawn.height() - 2 * margin]
  drawn.nodes().positions(node => {
    const { x, y } = node.position()
    return { x: margin + ((x - x1) / (x2 - x1 || 1)) * across, y: margin + ((y - y1) / (y2 - y1 || 1)) * down }
  })
  drawn.viewport({ zoom: 1, pan: { x: 0, y: 0 } })
}

/** Dots, lines and names as they stand in the box. */
function networkDrawing(drawn: cytoscape.Core): Drawing {
  const at = [1, 0, 0, 1, 0, 0] as const
  const lines = drawn.edges().map(edge => {
    const [from, to] = [edge.source().position(), edge.target().position()]
    const path = `M${tenth(from.x)} ${tenth(from.y)}L${tenth(to.x)} ${tenth(to.y)}`
    return { path, fill: null, stroke: '#cdd8d6', width: Number(edge.data('width')), dash: [], opacity: 1, at }
  })
  const dots = drawn
    .nodes()
    .toArray()
    .flatMap(node => {
      const { x, y } = node.position()
      const r = tenth(Number(node.data('size')) / 2)
      const fill = colourOf(String(node.style('background-color')))?.hex ?? '#5e9c9a'
      const path = `M${tenth(x - r)} ${tenth(y)}a${r} ${r} 0 1 0 ${2 * r} 0a${r} ${r} 0 1 0 ${-2 * r} 0Z`
      const ring = Number(node.data('ring'))
      const text = String(node.data('label')).slice(0, 300)
      return [
        { path, fill, stroke: ring ? '#9c3d12' : null, width: ring, dash: [], opacity: 1, at },
        {
          text,
          x: tenth(x),
          y: tenth(y + r + 12),
          size: 10,
          anchor: 'middle' as const,
          bold: false,
          fill: '#1b2b2a',
          opacity: 1,
          at,
        },
      ]
    })
  return { width: drawn.width(), height: drawn.height(), shapes: [...lines, ...dots] }
}

/** Sites as dots, the larger the higher their standing, in the colour of their cluster; those of networks have a ring. */
export default function NeighbourPicture({ sites, links }: Props) {
  const box = useRef<HTMLDivElement>(null)
  const graph = useRef<cytoscape.Core>(null)
  useShownPicture({
    title: 'Linking sites and the links among them',
    sentence: 'The larger a dot, the higher the standing of the site; those in one colour link to each other most.',
    draw: () => networkDrawing(graph.current!),
  })
  const scheme = useShownScheme()
  // biome-ignore lint/correctness/useExhaustiveDependencies: drawn anew in the colours of another theme.
  useEffect(() => {
    const element = box.current
    if (!element) return
    const style = getComputedStyle(element)
    const colour = (name: string): string => style.getPropertyValue(`--mui-palette-dew-${name}`).trim()
    // The largest clusters have colours of their own, the rest one together.
    const sizes = new Map<number, number>()
    for (const site of sites) if (site.cluster !== null) sizes.set(site.cluster, (sizes.get(site.cluster) ?? 0) + 1)
    const order = [...sizes].sort((a, b) => b[1] - a[1]).map(([cluster]) => cluster)
    const drawn = cytoscape({
      container: element,
      elements: [
        ...sites.map((site, i) => ({
          data: {
            id: String(i),
            label: site.domain.replace(/\.[^.]+$/, ''),
            size: least + ((site.standing ?? 0) / 100) * span,
            colour: colour(
              colourNames[Math.min(order.indexOf(site.cluster ?? -1) + 1, colourNames.length - 1)] ?? 'scale3',
            ),
            ring: site.network === null ? 0 : 4,
          },
        })),
        ...links.map(link => ({
          data: {
            source: String(link.from),
            target: String(link.to),
            width: Math.min(4, 0.6 + Math.log2(link.pages) / 3),
          },
        })),
      ],
      style: [
        {
          selector: 'node',
          style: {
            width: 'data(size)',
            height: 'data(size)',
            'background-color': 'data(colour)',
            'border-width': 'data(ring)',
            'border-color': colour('fall'),
            label: 'data(label)',
            'font-size': 10,
            color: colour('ink'),
            'text-valign': 'bottom',
            'text-margin-y': 3,
          },
        },
        {
          selector: 'edge',
          style: {
            width: 'data(width)',
            'line-color': colour('line'),
            'target-arrow-color': colour('scale2'),
            'target-arrow-shape': 'triangle',
            'arrow-scale': 0.6,
            'curve-style': 'straight',
          },
        },
      ],
      layout: {
        name: 'cose',
        animate: false,
        randomize: false,
        nodeDimensionsIncludeLabels: true,
        nodeRepulsion: () => 300_000,
        fit: false,
        idealEdgeLength: () => 110,
        // Hundreds of links would pull all sites into one heap.
        edgeElasticity: () => 1_500,
        gravity: 0.4,
        numIter: 1_500,
      },
      userZoomingEnabled: false,
    })
    fillBox(drawn)
    graph.current = drawn
    return () => {
      graph.current = null
      drawn.destroy()
    }
  }, [sites, links, scheme])
  return (
    <div
      ref={box}
      role="img"
      aria-label="Linking sites and the links among them; the table says the same"
      style={{ height, border: '1px solid var(--mui-palette-dew-line)', borderRadius: 6 }}
    />
  )
}
