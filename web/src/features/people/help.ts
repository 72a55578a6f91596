import type { ScreenHelp } from '../../feature.ts'
import { names } from './parts.ts'

const parts: Record<keyof typeof names, string> = {
  people: 'Who may see this site. A reader looks, an editor works, an owner also says who may.',
  accounts: 'All accounts of this program, for administrators.',
  keys: 'Keys for programs that use the API: for one site or all, with a role, shown once.',
  hooks: 'Addresses that are told of alerts and finished work, signed, and tried again where they do not answer.',
  done: 'What was done, exported and changed, by whom and from where.',
  you: 'Your own password and the places where you are signed in.',
}
const help: readonly ScreenHelp[] = [
  {
    path: 'people',
    title: 'People',
    says: [
      'On this machine alone nobody signs in. Once the program can be reached from elsewhere, everybody does, and each has a role in each site.',
    ],
    tabs: names,
    parts,
  },
]
export default help
