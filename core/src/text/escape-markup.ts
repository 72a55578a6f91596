/** Text as it stands in HTML, XML or SVG, also within an attribute. */
export const escapeMarkup = (text: string): string =>
  text.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;').replace(/"/g, '&quot;')
