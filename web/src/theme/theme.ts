import { createTheme } from '@mui/material/styles'
import type {} from '@mui/material/themeCssVarsAugmentation'

type Dew = {
  night: string
  nightSoft: string
  onNight: string
  onNightSoft: string
  ink: string
  ink2: string
  ink3: string
  lagoon: string
  lagoonSoft: string
  own: string
  ownInk: string
  ownSoft: string
  fall: string
  scale0: string
  scale1: string
  scale2: string
  scale3: string
  scale4: string
  ground: string
  paper: string
  line: string
  open: string
  rival1: string
  rival2: string
  rival3: string
  rival4: string
  rival5: string
}
declare module '@mui/material/styles' {
  interface Palette {
    dew: Dew
  }
  interface PaletteOptions {
    dew?: Dew
  }
}

const light: Dew = {
  night: '#10312F',
  nightSoft: '#1D4441',
  onNight: '#FFFFFF',
  onNightSoft: '#B7CBC7',
  ink: '#15241F',
  ink2: '#55645F',
  ink3: '#5A6863',
  lagoon: '#0D5C63',
  lagoonSoft: '#DDEBE8',
  own: '#C4661F',
  ownInk: '#9C4914',
  ownSoft: '#FCF1E9',
  fall: '#8A4B17',
  scale0: '#E4EDEA',
  scale1: '#B4D0CB',
  scale2: '#5D9A9A',
  scale3: '#0D5C63',
  scale4: '#10312F',
  ground: '#EEF2F0',
  paper: '#FFFFFF',
  line: '#D8E1DD',
  open: '#F3F8F6',
  rival1: '#5F7F8F',
  rival2: '#9A8FB0',
  rival3: '#7C8F5A',
  rival4: '#A77F7F',
  rival5: '#6B6F9E',
}
const dark: Dew = {
  night: '#0A1B1A',
  nightSoft: '#17302E',
  onNight: '#F1F6F4',
  onNightSoft: '#A9BDB8',
  ink: '#E8EFEC',
  ink2: '#A9B8B3',
  ink3: '#9BAAA5',
  lagoon: '#79C4BF',
  lagoonSoft: '#1D3A38',
  own: '#E0914F',
  ownInk: '#EBA56B',
  ownSoft: '#33251A',
  fall: '#DDA36B',
  scale0: '#203330',
  scale1: '#33534F',
  scale2: '#52898A',
  scale3: '#79C4BF',
  scale4: '#C6E6E2',
  ground: '#0F1B1A',
  paper: '#142321',
  line: '#2B3D3A',
  open: '#182926',
  rival1: '#8FB0C0',
  rival2: '#BBB0D0',
  rival3: '#A9BD85',
  rival4: '#D0A8A8',
  rival5: '#A2A6D6',
}

const palette = (mode: 'light' | 'dark', dew: Dew) => ({
  palette: {
    mode,
    dew,
    primary: { main: dew.lagoon, contrastText: mode === 'light' ? '#FFFFFF' : '#0F1B1A' },
    secondary: { main: dew.ownInk },
    error: { main: dew.fall },
    text: { primary: dew.ink, secondary: dew.ink2, disabled: dew.ink3 },
    background: { default: dew.ground, paper: dew.paper },
    divider: dew.line,
  },
})

const weights = { fontWeightRegular: 400, fontWeightMedium: 540, fontWeightBold: 640 }
const focusRing = { outline: '2px solid var(--mui-palette-dew-lagoon)', outlineOffset: 1 }

/** The one theme: tokens of the look, light and dark, as CSS variables. Style sheets and pictures read these variables only. */
export const theme = createTheme({
  cssVariables: { colorSchemeSelector: 'data-scheme' },
  colorSchemes: { light: palette('light', light), dark: palette('dark', dark) },
  spacing: 4,
  shape: { borderRadius: 5 },
  typography: {
    fontFamily: "'Hanken Grotesk Variable', system-ui, sans-serif",
    fontSize: 13,
    ...weights,
    button: { textTransform: 'none', fontWeight: 540, fontSize: 13 },
    body1: { fontSize: 13 },
    body2: { fontSize: 13 },
    h1: { fontSize: 18, fontWeight: 640 },
    h2: { fontSize: 14, fontWeight: 640 },
  },
  transitions: {
    duration: {
      shortest: 80,
      shorter: 100,
      short: 120,
      standard: 140,
      complex: 140,
      enteringScreen: 120,
      leavingScreen: 100,
    },
  },
  components: {
    MuiButtonBase: {
      defaultProps: { disableRipple: true },
      styleOverrides: { root: { '&:focus-visible': focusRing } },
    },
    MuiButton: {
      defaultProps: { size: 'small', disableElevation: true },
      styleOverrides: { root: { minHeight: 28, padding: '3px 10px' } },
    },
    MuiPaper: { defaultProps: { elevation: 0 }, styleOverrides: { root: { backgroundImage: 'none' } } },
    MuiMenu: {
      styleOverrides: {
        paper: { border: '1px solid var(--mui-palette-dew-line)', boxShadow: '0 4px 16px rgb(0 0 0 / .12)' },
      },
    },
    MuiPopover: {
      styleOverrides: {
        paper: { border: '1px solid var(--mui-palette-dew-line)', boxShadow: '0 4px 16px rgb(0 0 0 / .12)' },
      },
    },
    MuiDialog: { styleOverrides: { paper: { border: '1px solid var(--mui-palette-dew-line)' } } },
    MuiMenuItem: { styleOverrides: { root: { fontSize: 13, minHeight: 30 } } },
    MuiTextField: { defaultProps: { size: 'small' } },
    MuiOutlinedInput: {
      styleOverrides: {
        root: { fontSize: 13, backgroundColor: 'var(--mui-palette-dew-paper)' },
        input: { padding: '5px 9px', height: 20 },
        multiline: { padding: '6px 9px', '& textarea': { padding: 0, height: 'auto' } },
      },
    },
    MuiInputLabel: { styleOverrides: { root: { fontSize: 13 } } },
    MuiTooltip: {
      defaultProps: { enterDelay: 350, arrow: false },
      styleOverrides: {
        tooltip: {
          fontSize: 12,
          backgroundColor: 'var(--mui-palette-dew-night)',
          color: 'var(--mui-palette-dew-onNight)',
          maxWidth: 360,
        },
      },
    },
    MuiFormControlLabel: { styleOverrides: { label: { fontSize: 13 } } },
    MuiCheckbox: { defaultProps: { size: 'small' }, styleOverrides: { root: { padding: 4 } } },
  },
})
