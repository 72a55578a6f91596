import { type ComponentType, type ReactNode, useEffect, useState } from 'react'

const loads = new Set<() => Promise<void>>()

/** Loads all that is loaded later; called when the first hand moves over the screen, so that nothing that opens is waited for. */
export const loadAllLater = async (): Promise<void> => {
  await Promise.all([...loads].map(load => load()))
}

/**
 * A component whose code comes after the first screen; draws `meanwhile`, nothing by default, until it is there, and throws where it does not
 * come. Without `Suspense`, which holds back what arrives
 * by 0.3 s so that screens do not flicker, which menus must not wait for. What draws something meanwhile is large, as screens are, and not
 * loaded ahead: the first press would wait for all of them.
 */
export function later<Module, Props extends object>(
  load: () => Promise<Module>,
  pick: (module: Module) => ComponentType<Props>,
  meanwhile: ReactNode = null,
): ComponentType<Props> {
  let Loaded: ComponentType<Props> | null = null
  const fetch = async (): Promise<void> => {
    Loaded ??= pick(await load())
  }
  if (!meanwhile) loads.add(fetch)
  return function Later(props: Props) {
    const [arrived, setArrived] = useState(Loaded !== null)
    const [failed, setFailed] = useState<Error | null>(null)
    const wanted = !('open' in props) || Boolean(props.open)
    useEffect(() => {
      // Another may have loaded it between drawing and here: that alone draws nothing.
      if (wanted && !arrived) fetch().then(() => setArrived(true), setFailed)
    }, [wanted, arrived])
    if (failed) throw failed
    if (!wanted) return null
    return Loaded ? <Loaded {...props} /> : meanwhile
  }
}
