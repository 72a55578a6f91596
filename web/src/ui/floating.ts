/** What floats above a screen, in one piece that is loaded when the first of it is opened. */
export { Checkbox, FormControlLabel, Menu, MenuList, Popover, Popper } from '@mui/material'
