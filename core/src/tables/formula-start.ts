/**
 * Beginnings of a text that a spreadsheet may take for a formula, so that an exported cell could act on its reader: the signs themselves,
 * their full-width forms, and white space that is cut away before them. Source: OWASP, CSV injection.
 */
export const formulaStart = /^\s*[=+\-@\uff1d\uff0b\uff0d\uff20]|^[\t\r\n]/
