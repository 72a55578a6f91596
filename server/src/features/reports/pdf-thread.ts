import { createRequire } from 'node:module'
import { dirname, join } from 'node:path'
import { parentPort } from 'node:worker_threads'
import type { ReportDocument } from '@dew-trail/core/reports/report-document'
import pdfmake from 'pdfmake'
import { answerInThread } from '../../platform/jobs/run-in-thread.ts'
import { pdfDefinition } from './pdf-definition.ts'

const fonts = join(dirname(createRequire(import.meta.url).resolve('pdfmake/package.json')), 'fonts', 'Roboto')
pdfmake.setFonts({
  Roboto: {
    normal: join(fonts, 'Roboto-Regular.ttf'),
    bold: join(fonts, 'Roboto-Medium.ttf'),
    italics: join(fonts, 'Roboto-Italic.ttf'),
    bolditalics: join(fonts, 'Roboto-MediumItalic.ttf'),
  },
})
// A report holds all it shows: nothing is fetched, and of the machine's files only the letters are read.
pdfmake.setUrlAccessPolicy(() => false)
pdfmake.setLocalAccessPolicy(path => path.startsWith(fonts))

answerInThread<ReportDocument, Uint8Array>(parentPort!, async report =>
  Uint8Array.from(await pdfmake.createPdf(pdfDefinition(report)).getBuffer()),
)
