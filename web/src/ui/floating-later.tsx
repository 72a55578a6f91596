import type {
  CheckboxProps,
  FormControlLabelProps,
  MenuListProps,
  MenuProps,
  PopoverProps,
  PopperProps,
} from '@mui/material'
import type { ComponentType } from 'react'
import { later } from './later.tsx'

type Floating = typeof import('./floating.ts')
const floating = <Props extends object>(pick: (all: Floating) => ComponentType<Props>): ComponentType<Props> =>
  later(() => import('./floating.ts'), pick)

export const Menu = floating<MenuProps>(all => all.Menu)
export const MenuList = floating<MenuListProps>(all => all.MenuList)
export const Popover = floating<PopoverProps>(all => all.Popover)
export const Popper = floating<PopperProps>(all => all.Popper)
export const Checkbox = floating<CheckboxProps>(all => all.Checkbox)
export const FormControlLabel = floating<FormControlLabelProps>(all => all.FormControlLabel)
