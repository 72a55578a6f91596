import type { ViewState } from '@dew-trail/contract/views'

/** A view of conditions and order that leaves the columns as they are. */
export const plainView = (name: string, sort: string, ...where: string[]): { name: string; state: ViewState } => ({
  name,
  state: { where, sort, columns: [], folded: false },
})
