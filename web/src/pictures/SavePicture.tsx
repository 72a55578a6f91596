import { type LinePicture, linePicture } from '@dew-trail/core/pictures/line-picture'
import { download } from '../ui/download.ts'

/** Colours of files, which no theme reaches: the own site first, then the others. */
export const fileColours = ['#b4540a', '#3f6f8f', '#8a6aa8', '#6d8b3c', '#a8505f', '#4a8f86']

/** Saves a picture of lines as an SVG file, as it stands in reports. */
export function SavePicture({ picture, name }: { picture(): LinePicture; name: string }) {
  return (
    <button
      type="button"
      className="link"
      style={{ fontSize: 12, marginRight: 14 }}
      aria-label={`Save as SVG: ${name}`}
      onClick={() => download(new Blob([linePicture(picture())], { type: 'image/svg+xml' }), `${name}.svg`)}
    >
      Save as SVG
    </button>
  )
}
