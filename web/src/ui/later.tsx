import type {
  CheckboxProps,
  FormControlLabelProps,
  MenuListProps,
  MenuProps,
  PopoverProps,
  PopperProps,
} from '@mui/material'
import { type ComponentType, lazy, Suspense, useRef } from 'react'

type Floating = typeof import('./floating.ts')
/** Draws nothing until it is first opened and its code is there: menus are a fifth of all that a first screen would load. */
function later<Props extends object>(pick: (floating: Floating) => ComponentType<Props>): ComponentType<Props> {
  const Loaded: ComponentType<Props> = lazy(async () => ({ default: pick(await import('./floating.ts')) }))
  return function Later(props: Props) {
    const wanted = useRef(false)
    if (!('open' in props) || props.open) wanted.current = true
    return wanted.current ? (
      <Suspense fallback={null}>
        <Loaded {...props} />
      </Suspense>
    ) : null
  }
}

export const Menu = later<MenuProps>(floating => floating.Menu)
export const MenuList = later<MenuListProps>(floating => floating.MenuList)
export const Popover = later<PopoverProps>(floating => floating.Popover)
export const Popper = later<PopperProps>(floating => floating.Popper)
export const Checkbox = later<CheckboxProps>(floating => floating.Checkbox)
export const FormControlLabel = later<FormControlLabelProps>(floating => floating.FormControlLabel)
