import type { ScreenHelp } from '../../feature.ts'

const help: readonly ScreenHelp[] = [
  {
    path: 'reports',
    title: 'Reports',
    says: [
      'What is handed to a client or a chief. A report is made of sections that fill themselves for its site, market and day; drag them into order and write your own words between.',
      'The sheet of paper in the head puts any table or picture of any screen into a report. A sheet that the server can write is filled anew with each issue; all else stays as it was shown, with its day.',
      'Issue it, and it is kept as it was: as a page, PDF or workbook, at a secret address that you can end, or by itself each week or month and mailed.',
    ],
  },
]
export default help
