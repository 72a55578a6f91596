/** The value of a theme colour now; canvases cannot read CSS variables themselves. */
export const themeColour = (name: string): string =>
  getComputedStyle(document.documentElement).getPropertyValue(`--mui-palette-dew-${name}`).trim()
