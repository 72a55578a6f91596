import type { ScreenHelp } from '../../feature.ts'

const help: readonly ScreenHelp[] = [
  {
    path: 'sources',
    title: 'Sources',
    says: [
      'Every connection to the outside with its key, quota, use and last failure; "Try" sends one request. The guide says which sources a first real site needs, and which files can stand in for them.',
      'Below: crawls, the link graph, files that were imported (each can be taken back), backups, the space that data takes and how long it is kept, and the log of all work.',
    ],
  },
]
export default help
