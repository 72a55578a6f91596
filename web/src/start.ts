import { beginEarly } from './ui/early-source.ts'

beginEarly(window.location)
void import('./main.tsx')
