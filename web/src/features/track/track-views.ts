import { plainView } from '../../sheet/plain-view.ts'

/** Views of tracked keywords that come with the program. */
export const shippedViews = [
  plainView('All of them', 'now'),
  plainView('Just below the first page', '-searches', 'now:from:11', 'now:to:20'),
  plainView('Fell', 'gained', 'gained:to:-1'),
  plainView('Rose', '-gained', 'gained:from:1'),
]
