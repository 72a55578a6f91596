import { plainView } from '../../sheet/plain-view.ts'

/** Views of tracked keywords that come with the program. */
export const shippedViews = [
  plainView('All of them', 'now'),
  plainView('First in any market', '-searches', 'anywhere:to:1'),
  plainView('Within 3 in any market', '-searches', 'anywhere:to:3'),
  plainView('Within 10 in any market', '-searches', 'anywhere:to:10'),
  plainView('Within 30 in any market', '-searches', 'anywhere:to:30'),
  plainView('Within 100 in any market', '-searches', 'anywhere:to:100'),
  plainView('Just below the first page', '-searches', 'now:from:11', 'now:to:20'),
  plainView('Entered the first page', '-searches', 'note:is:entered top 10'),
  plainView('Left the first page', '-searches', 'note:is:left top 10'),
  plainView('Fell', 'gained', 'gained:to:-1'),
  plainView('Rose', '-gained', 'gained:from:1'),
  plainView('Tracked last', '-trackedSince'),
  plainView('Page swapped', '-searches', 'note:is:page changed'),
  plainView('Wrong page', '-searches', 'note:is:wrong page'),
  plainView('Not found', '-searches', 'change:is:absent|out'),
]
