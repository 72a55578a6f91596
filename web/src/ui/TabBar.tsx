import { setParam, useAddress } from './use-address.ts'

type Props<Tab extends string> = {
  tabs: Readonly<Record<Tab, string>>
  see: Tab
  /** What else of the address belongs to one tab alone, besides conditions, order and unfolded rows. */
  forget?: readonly string[]
}
/** What of a place is shown: the chosen part stands in the address, the first one without a word there. Back returns to the part before. */
export function TabBar<Tab extends string>({ tabs, see, forget = [] }: Props<Tab>) {
  const [, change] = useAddress()
  const names = Object.keys(tabs) as Tab[]
  return (
    <div className="bar-end" role="group" aria-label="What is shown">
      {names.map(tab => (
        <button
          key={tab}
          type="button"
          className="link"
          aria-pressed={see === tab}
          onClick={() =>
            change(params => {
              setParam('see', tab === names[0] ? null : tab)(params)
              // Conditions are of one table's columns.
              for (const name of ['where', 'sort', 'open', ...forget]) params.delete(name)
            }, true)
          }
        >
          {tabs[tab]}
        </button>
      ))}
    </div>
  )
}

/** The tab that the address names; the first one where it names none that is there. */
export function useTab<Tab extends string>(tabs: Readonly<Record<Tab, string>>): Tab {
  const [params] = useAddress()
  const wanted = params.get('see') ?? ''
  return (wanted in tabs ? wanted : Object.keys(tabs)[0]) as Tab
}
