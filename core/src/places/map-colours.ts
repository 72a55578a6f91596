import type { RankClass } from './hexagons.ts'

/** Fill and ink of each class in files, where no theme reaches: the teal scale of the program. */
export const fileColours: Record<RankClass, { fill: string; ink: string; line: string; dash?: string }> = {
  first: { fill: '#10312f', ink: '#ffffff', line: '#10312f' },
  front: { fill: '#0d5c63', ink: '#ffffff', line: '#0d5c63' },
  page: { fill: '#5d9a9a', ink: '#10312f', line: '#4a8585' },
  deep: { fill: '#b4d0cb', ink: '#15241f', line: '#8fb5ae' },
  missing: { fill: '#ffffff', ink: '#5b6b68', line: '#8fb5ae' },
  unchecked: { fill: '#eef2f0', ink: '#5b6b68', line: '#93a19c', dash: '.08 .08' },
  leftOut: { fill: 'none', ink: '#93a19c', line: '#d8e1dd', dash: '.04 .1' },
}
