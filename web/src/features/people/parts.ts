/** Parts of the screen, in order. */
export const names = {
  people: 'This site',
  accounts: 'All accounts',
  keys: 'Access keys',
  hooks: 'Web hooks',
  done: 'What was done',
  you: 'Your account',
} as const
