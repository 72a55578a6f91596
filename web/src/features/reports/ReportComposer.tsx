import {
  removeReport,
  type Report,
  reportFormats,
  reportPath,
  type Section,
  type SectionKind,
  sectionKinds,
  sectionNames,
} from '@dew-trail/contract/reports'
import { MenuItem, Select } from '@mui/material'
import { useState } from 'react'
import { call } from '../../api/call.ts'
import { formatMarket } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'
import { setParam, useAddress } from '../../ui/use-address.ts'
import { IssuesPart } from './IssuesPart.tsx'
import { LogoPart } from './LogoPart.tsx'
import { SectionLine } from './SectionLine.tsx'
import { TypedLine } from './TypedLine.tsx'
import { useReportChange } from './use-report.ts'

/** A table or picture of a screen is put into a report where it stands. */
const offered = sectionKinds.filter(kind => kind !== 'view' && kind !== 'kept')

/** What a report is made of: title, market, time, colour, its sections in their order, and what becomes of it. */
export function ReportComposer({ report, hasLogo, mails }: { report: Report; hasLogo: boolean; mails: boolean }) {
  const { site } = useSite()
  const [, changeAddress] = useAddress()
  const act = useAct()
  const change = useReportChange(report)
  const [dragged, setDragged] = useState<number | null>(null)
  const [over, setOver] = useState<number | null>(null)
  const { sections } = report
  const setSections = (next: Section[], say?: string) => change({ sections: next }, say)
  const move = (from: number, to: number) => {
    if (to < 0 || to >= sections.length || from === to) return
    const next = sections.toSpliced(from, 1)
    void setSections(next.toSpliced(to, 0, sections[from]!))
  }
  const add = (kind: SectionKind) => {
    const section: Section = { kind, title: '', ...(kind === 'words' ? { words: 'Write what matters here.' } : {}) }
    void setSections([...sections, section])
  }
  const remove = () =>
    act(async () => {
      const { actId } = await call(removeReport, { siteId: site.id, reportId: report.id })
      changeAddress(setParam('report', null))
      return { say: `"${report.name}" is removed`, actId }
    })
  return (
    <section className="report-composer" aria-label="What the report is made of">
      <TypedLine label="Title" value={report.name} most={120} onSave={name => void change({ name })} strong />
      <div className="report-of">
        <Select
          size="small"
          value={report.marketId}
          onChange={event => void change({ marketId: Number(event.target.value) })}
          slotProps={{ input: { 'aria-label': 'Market' } }}
        >
          {site.markets.map(each => (
            <MenuItem key={each.id} value={each.id}>
              {formatMarket(each)}
            </MenuItem>
          ))}
        </Select>
        <label>
          over{' '}
          <TypedLine
            label="Days compared"
            value={String(report.days)}
            most={3}
            isRight={text => /^\d+$/.test(text) && Number(text) >= 1 && Number(text) <= 400}
            onSave={text => void change({ days: Number(text) })}
            width={44}
          />{' '}
          days
        </label>
        <label title="Colour of headings">
          <input
            type="color"
            aria-label="Colour"
            defaultValue={report.colour}
            key={report.colour}
            onBlur={event => event.target.value !== report.colour && void change({ colour: event.target.value })}
          />
        </label>
        <LogoPart hasLogo={hasLogo} />
      </div>
      <h2>Sections</h2>
      <ol className="section-list">
        {sections.map((section, i) => (
          <li
            // A section has no name of its own: its place is its identity, and nothing is kept by it but what stands in it.
            key={`${report.version} ${i}`}
            className={over === i ? 'over' : ''}
            onDragOver={event => {
              if (dragged === null) return
              event.preventDefault()
              setOver(i)
            }}
            onDragLeave={() => setOver(null)}
            onDrop={event => {
              event.preventDefault()
              setOver(null)
              if (dragged !== null) move(dragged, i)
              setDragged(null)
            }}
          >
            <SectionLine
              section={section}
              onDrag={isDragged => setDragged(isDragged ? i : null)}
              onMove={by => move(i, i + by)}
              onChange={next => void setSections(sections.with(i, next))}
              onRemove={() => void setSections(sections.toSpliced(i, 1), 'The section is taken out')}
            />
          </li>
        ))}
      </ol>
      <Select
        size="small"
        displayEmpty
        value=""
        onChange={event => add(event.target.value as SectionKind)}
        renderValue={() => 'Add a section'}
        slotProps={{ input: { 'aria-label': 'Add a section' } }}
      >
        {offered.map(kind => (
          <MenuItem key={kind} value={kind}>
            {sectionNames[kind]}
          </MenuItem>
        ))}
      </Select>
      <p className="quiet" style={{ margin: '4px 0 0', fontSize: 12 }}>
        Tables and pictures of any screen are put here from where they stand, by the sheet of paper in the head.
      </p>
      <h2>As it would be now</h2>
      <p style={{ margin: 0 }}>
        {reportFormats.map(format => (
          <a
            key={format}
            className="link"
            style={{ marginRight: 14 }}
            href={reportPath(site.id, report.id, null, format)}
            {...(format === 'html' ? { target: '_blank', rel: 'noreferrer' } : {})}
          >
            {{ html: 'Page', pdf: 'PDF', xlsx: 'Workbook' }[format]}
          </a>
        ))}
        <button type="button" className="link" onClick={() => void remove()}>
          Remove the report
        </button>
      </p>
      <IssuesPart report={report} mails={mails} onChange={change} />
    </section>
  )
}
