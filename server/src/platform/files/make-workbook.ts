import { type Zippable, strToU8, zipSync } from 'fflate'

/** For tests: an XLSX workbook whose first sheet has these rows as XML, packed or stored. */
export function makeXlsx(
  rows: string,
  more: { packed?: boolean; from1904?: boolean; styles?: string; strings?: string[]; sheets?: string } = {},
): Buffer {
  const { packed = true, from1904 = false, styles = '', strings = [], sheets } = more
  const office = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships'
  const parts: Record<string, string> = {
    '[Content_Types].xml': '<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"/>',
    '_rels/.rels': `<Relationships><Relationship Id="r1" Type="${office}/officeDocument" Target="xl/workbook.xml"/></Relationships>`,
    'xl/workbook.xml': `<workbook xmlns:r="${office}"><workbookPr date1904="${from1904 ? 1 : 0}"/><sheets>${sheets ?? '<sheet name="Words" sheetId="1" r:id="rId1"/>'}</sheets></workbook>`,
    'xl/_rels/workbook.xml.rels': `<Relationships>
      <Relationship Id="rId1" Type="${office}/worksheet" Target="worksheets/sheet1.xml"/>
      <Relationship Id="rId2" Type="${office}/worksheet" Target="/xl/worksheets/sheet2.xml"/>
      <Relationship Id="rId3" Type="${office}/sharedStrings" Target="sharedStrings.xml"/>
      <Relationship Id="rId4" Type="${office}/styles" Target="styles.xml"/></Relationships>`,
    'xl/worksheets/sheet1.xml': `<x:worksheet xmlns:x="m"><x:sheetData>${rows.replace(/<(\/?)/g, '<$1x:')}</x:sheetData></x:worksheet>`,
    'xl/worksheets/sheet2.xml':
      '<worksheet><sheetData><row r="1"><c r="A1" t="str"><v>second</v></c></row></sheetData></worksheet>',
    'xl/sharedStrings.xml': `<sst>${strings.map(text => `<si>${text}</si>`).join('')}</sst>`,
    'xl/styles.xml': `<styleSheet>${styles}</styleSheet>`,
  }
  return zipOf(parts, packed)
}

/** For tests: an OpenDocument spreadsheet whose first table has these rows as XML. */
export const makeOds = (rows: string): Buffer =>
  zipOf(
    {
      mimetype: 'application/vnd.oasis.opendocument.spreadsheet',
      'content.xml': `<office:document-content><office:body><office:spreadsheet><table:table table:name="a">${rows}</table:table><table:table table:name="b"><table:table-row><table:table-cell office:value-type="string"><text:p>second</text:p></table:table-cell></table:table-row></table:table></office:spreadsheet></office:body></office:document-content>`,
    },
    true,
  )

export function zipOf(parts: Record<string, string | Uint8Array>, packed: boolean): Buffer {
  const files: Zippable = {}
  for (const [name, content] of Object.entries(parts))
    files[name] = [typeof content === 'string' ? strToU8(content) : content, { level: packed ? 6 : 0 }]
  return Buffer.from(zipSync(files))
}
