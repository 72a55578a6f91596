import type { Condition } from '@dew-trail/core/tables/column-spec'
import { Checkbox, FormControlLabel, MenuItem, Select, TextField } from '@mui/material'
import { useState } from 'react'
import { dayOfValue, dayValue } from '@dew-trail/core/tables/row-tests'
import type { SheetColumn } from './columns.ts'
import { freshCondition, hasWords, isDay } from './fresh-condition.ts'

const opLabels: Record<string, Record<string, string>> = {
  number: { from: 'at least', to: 'at most', unknown: 'is unknown', known: 'is known' },
  text: { has: 'contains', without: 'without' },
  day: { from: 'since', to: 'until', unknown: 'is unknown', known: 'is known' },
  words: { has: 'contains', without: 'without', known: 'is known', unknown: 'is unknown' },
  code: { is: 'is one of', not: 'is none of', unknown: 'is unknown' },
  set: { any: 'has one of', unknown: 'is unknown' },
  flag: { yes: 'yes', no: 'no' },
}

const opsOf = (column: SheetColumn): string =>
  isDay(column)
    ? 'day'
    : hasWords(column)
      ? 'words'
      : column.isSet
        ? 'set'
        : column.kind === 'series'
          ? 'number'
          : column.kind

/** A number as people type or paste it: with a comma, or a minus sign as it is printed. */
const readTyped = (text: string): number => Number(text.trim().replace(',', '.').replace(/^[−–]/, '-'))

type EditorProps = {
  condition: Condition
  columns: readonly SheetColumn[]
  onChange(condition: Condition): void
}
/** Column, comparison and value of one condition. */
export default function ConditionEditor({ condition, columns, onChange }: EditorProps) {
  const column = columns.find(each => each.key === condition.column) ?? columns[0]!
  const [text, setText] = useState(
    'value' in condition && !Array.isArray(condition.value) && !Number.isNaN(condition.value)
      ? isDay(column)
        ? dayOfValue(Number(condition.value))
        : String(condition.value)
      : '',
  )
  const readValue = (typed: string): number => (isDay(column) ? (dayValue(typed) ?? Number.NaN) : readTyped(typed))
  const setOp = (op: string) => {
    if (op.startsWith('within:')) {
      onChange({ column: column.key, op: 'within', value: op.slice(7) })
      return
    }
    const next = freshCondition(column, op)
    onChange(
      'value' in next &&
        'value' in condition &&
        typeof next.value === typeof condition.value &&
        Array.isArray(next.value) === Array.isArray(condition.value)
        ? ({ ...next, value: condition.value } as Condition)
        : next,
    )
  }
  const setValue = (value: string) => {
    setText(value)
    if (condition.op === 'from' || condition.op === 'to') {
      const number = readValue(value)
      if (value.trim() !== '' && Number.isFinite(number)) onChange({ ...condition, value: number })
    } else if (condition.op === 'has' || condition.op === 'without') onChange({ ...condition, value })
  }
  const wrong = (condition.op === 'from' || condition.op === 'to') && text !== '' && !Number.isFinite(readValue(text))
  return (
    <>
      <Select
        size="small"
        value={column.key}
        sx={{ minWidth: 130 }}
        slotProps={{ input: { 'aria-label': 'Column' } }}
        onChange={event => {
          setText('')
          onChange(freshCondition(columns.find(each => each.key === event.target.value)!))
        }}
      >
        {columns.map(each => (
          <MenuItem key={each.key} value={each.key}>
            {each.label}
          </MenuItem>
        ))}
      </Select>
      <Select
        size="small"
        value={condition.op === 'within' ? `within:${condition.value}` : condition.op}
        sx={{ minWidth: 105 }}
        slotProps={{ input: { 'aria-label': 'Comparison' } }}
        onChange={event => setOp(event.target.value)}
      >
        {Object.entries(opLabels[opsOf(column)]!).map(([op, label]) => (
          <MenuItem key={op} value={op}>
            {label}
          </MenuItem>
        ))}
        {column.limits?.map(limit => (
          <MenuItem key={limit.value} value={`within:${limit.value}`}>
            up to {limit.label}
          </MenuItem>
        ))}
      </Select>
      {'value' in condition && !Array.isArray(condition.value) && condition.op !== 'within' && (
        <TextField
          autoFocus
          type={isDay(column) ? 'date' : 'text'}
          value={text}
          error={wrong}
          helperText={wrong ? 'Type a number' : undefined}
          onChange={event => setValue(event.target.value)}
          sx={{ width: isDay(column) ? 150 : 130 }}
          slotProps={{ htmlInput: { 'aria-label': 'Value' } }}
        />
      )}
      {'value' in condition && Array.isArray(condition.value) && (
        <div style={{ display: 'flex', flexDirection: 'column', maxHeight: 320, overflow: 'auto' }}>
          {(column.values ?? []).map(({ value, label }) => (
            <FormControlLabel
              key={value}
              label={label}
              control={
                <Checkbox
                  checked={(condition.value as string[]).includes(value)}
                  onChange={(_, on) =>
                    onChange({
                      ...condition,
                      value: on
                        ? [...(condition.value as string[]), value]
                        : (condition.value as string[]).filter(each => each !== value),
                    } as Condition)
                  }
                />
              }
            />
          ))}
        </div>
      )}
    </>
  )
}
