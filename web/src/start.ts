import { beginEarly } from './shell/early-source.ts'

beginEarly(window.location)
void import('./main.tsx')
