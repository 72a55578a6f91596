/** What floats above a screen, in one piece: menus are a fifth of all that a first screen would load. */
export { Checkbox, FormControlLabel, Menu, MenuList, Popover, Popper } from '@mui/material'
