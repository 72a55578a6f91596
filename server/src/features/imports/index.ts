import type { Feature } from '../../feature.ts'
import { mountImports } from './routes.ts'

export const importsFeature: Feature = { mount: mountImports }
