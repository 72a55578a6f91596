import type { ScreenHelp } from '../../feature.ts'

const help: readonly ScreenHelp[] = [
  {
    path: 'weigh',
    title: 'Weigh',
    says: [
      'Judge what your site can win. Each kept keyword gets its first page fetched: how strong the results are, how hard it is for you to stand among them, and what it would bring.',
      'A chance is how often pages like yours stood that high on such first pages; visits and worth follow from it. Sort by worth, and unfold a row for the sentence that says why.',
      'Chances are learnt for each engine from what your result pages show. "What ranks" tells what they rest on and how often they came true.',
    ],
  },
  {
    path: 'weigh/page',
    title: 'A first page',
    says: [
      'The results of one keyword as they stood on the day that is shown: who they are, how strong, what they have that others lack, and what each gets of the visits.',
      'Put a page of yours or a draft beside them to see which words, headings and lengths they share and it does not, and where it could stand.',
    ],
  },
  {
    path: 'weigh/strengths',
    title: 'What ranks',
    says: [
      'What makes a result strong on this engine, learnt from the order of the results that were fetched, with how sure each weight is.',
      'Below: pages that you published, what was said of them then, and where they came to stand.',
    ],
  },
]
export default help
