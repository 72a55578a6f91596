import type { Feature } from '../../feature.ts'
import { mountImports } from './routes.ts'
import { undoTakeBack } from './undo.ts'

export const importsFeature: Feature = { mount: mountImports, undo: { takeBackImport: undoTakeBack } }
