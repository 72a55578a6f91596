import type { Condition } from '@dew-trail/core/tables/column-spec'
import { Checkbox, FormControlLabel, MenuItem, Popover, Select, TextField } from '@mui/material'
import { Plus, X } from 'lucide-react'
import { type KeyboardEvent, type ReactNode, useEffect, useRef, useState } from 'react'
import type { SheetColumn } from './columns.ts'
import { conditionWords } from './condition-words.ts'
import type { SheetState } from './use-sheet-state.ts'

const opLabels: Record<string, Record<string, string>> = {
  number: { from: 'at least', to: 'at most', unknown: 'is unknown', known: 'is known' },
  text: { has: 'contains', without: 'without' },
  code: { is: 'is one of', not: 'is none of', unknown: 'is unknown' },
  set: { any: 'has one of', unknown: 'is unknown' },
  flag: { yes: 'yes', no: 'no' },
}

function Worded({ condition, column }: { condition: Condition; column: SheetColumn }): ReactNode {
  const [plain, strong] = conditionWords(condition, column)
  return (
    <>
      {plain}
      <b>{strong}</b>
    </>
  )
}

type Props = {
  columns: readonly SheetColumn[]
  state: SheetState
  searchColumn: string
  hide?: readonly string[]
  end?: ReactNode
  lead?: ReactNode
}

/** Live conditions of a sheet: a text box that filters while typing, then one chip a condition, each edited where it stands. `hide` names columns that other controls of the screen show. */
export function ConditionsBar({ columns, state, searchColumn, hide = [], end, lead }: Props) {
  const [editing, setEditing] = useState<{ at: number; anchor: HTMLElement } | null>(null)
  const typedAt = state.where.findIndex(
    condition => condition.column === searchColumn && condition.op === 'has' && !condition.value.startsWith('"'),
  )
  const typedCondition = state.where[typedAt]
  const typed = typedCondition && 'value' in typedCondition ? String(typedCondition.value) : ''
  const box = useRef<HTMLInputElement>(null)
  useEffect(() => {
    const onKey = (event: globalThis.KeyboardEvent) => {
      if (event.key !== '/' || event.target instanceof HTMLInputElement || event.target instanceof HTMLTextAreaElement)
        return
      event.preventDefault()
      box.current?.focus()
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  }, [])
  const replace = (at: number, condition: Condition | null) =>
    state.setWhere(
      condition ? state.where.map((each, i) => (i === at ? condition : each)) : state.where.filter((_, i) => i !== at),
    )
  const setTyped = (text: string) => {
    if (typedAt >= 0) replace(typedAt, text ? { column: searchColumn, op: 'has', value: text } : null)
    else if (text) state.setWhere([...state.where, { column: searchColumn, op: 'has', value: text }])
  }
  // A condition that is begun filters nothing until something is given.
  const [begun, setBegun] = useState<Condition | null>(null)
  const add = (anchor: HTMLElement) => {
    setBegun(freshCondition(columns.find(each => each.kind === 'number') ?? columns[0]!))
    setEditing({ at: state.where.length, anchor })
  }
  const edited = begun ?? (editing ? state.where[editing.at] : undefined)
  const change = (next: Condition) => {
    if (!begun) replace(editing!.at, next)
    else if (isBlank(next)) setBegun(next)
    else {
      setBegun(null)
      setEditing({ at: state.where.length, anchor: editing!.anchor })
      state.setWhere([...state.where, next])
    }
  }
  const finish = () => {
    setEditing(null)
    setBegun(null)
    if (!begun && edited && isBlank(edited)) replace(editing!.at, null)
  }
  return (
    <div className="bar" role="toolbar" aria-label="Conditions">
      {lead}
      <TextField
        inputRef={box}
        value={typed}
        onChange={event => setTyped(event.target.value)}
        placeholder="Contains…  /"
        title={'Words in any order; "a phrase" in quotes; kiln or oven; pott* for any ending'}
        sx={{ width: 170 }}
        slotProps={{ htmlInput: { 'aria-label': 'Contains' } }}
        onKeyDown={event => {
          if (event.key === 'Escape') {
            setTyped('')
            box.current?.blur()
          }
        }}
      />
      {state.where.map((condition, at) => {
        const column = columns.find(each => each.key === condition.column)
        if (
          !column ||
          at === typedAt ||
          hide.includes(condition.column) ||
          ('value' in condition && typeof condition.value === 'string' && condition.value.startsWith('"'))
        )
          return null
        return (
          <span className="chip" key={at}>
            <button type="button" onClick={event => setEditing({ at, anchor: event.currentTarget })}>
              <span>
                <Worded condition={condition} column={column} />
              </span>
            </button>
            <button type="button" aria-label={`Remove condition on ${column.label}`} onClick={() => replace(at, null)}>
              <X size={13} aria-hidden="true" />
            </button>
          </span>
        )
      })}
      <button type="button" className="link add-condition" onClick={event => add(event.currentTarget)}>
        <Plus size={14} aria-hidden="true" /> condition
      </button>
      {end && <div className="bar-end">{end}</div>}
      {edited && editing && (
        <Popover
          open
          anchorEl={editing.anchor}
          onClose={finish}
          anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
          slotProps={{
            paper: {
              sx: { p: 3, mt: 1, display: 'flex', gap: 2, alignItems: 'flex-start' },
              // In a list of comparisons Enter chooses, elsewhere it is done.
              onKeyDown: (event: KeyboardEvent) => {
                if (event.key !== 'Enter' || !(event.target as HTMLElement).matches('input')) return
                // The focus goes back to the button that began it, which the same key must not press again.
                event.preventDefault()
                finish()
              },
            },
          }}
        >
          <Editor
            condition={edited}
            columns={columns.filter(column => column.kind !== 'series' && !hide.includes(column.key))}
            onChange={change}
          />
        </Popover>
      )}
    </div>
  )
}

/** A number as people type or paste it: with a comma, or a minus sign as it is printed. */
const readTyped = (text: string): number => Number(text.trim().replace(',', '.').replace(/^[−–]/, '-'))

const isBlank = (condition: Condition): boolean =>
  'value' in condition &&
  (condition.value === '' ||
    Number.isNaN(condition.value) ||
    (Array.isArray(condition.value) && !condition.value.length))

function freshCondition(column: SheetColumn, op?: string): Condition {
  switch (column.kind) {
    case 'text':
      return { column: column.key, op: op === 'without' ? 'without' : 'has', value: '' }
    case 'code':
      return op === 'unknown'
        ? { column: column.key, op }
        : { column: column.key, op: op === 'not' ? 'not' : column.isSet ? 'any' : 'is', value: [] }
    case 'flag':
      return { column: column.key, op: op === 'no' ? 'no' : 'yes' }
    default:
      return op === 'unknown' || op === 'known'
        ? { column: column.key, op }
        : { column: column.key, op: op === 'to' ? 'to' : 'from', value: Number.NaN }
  }
}

type EditorProps = {
  condition: Condition
  columns: readonly SheetColumn[]
  onChange(condition: Condition): void
}
function Editor({ condition, columns, onChange }: EditorProps) {
  const column = columns.find(each => each.key === condition.column) ?? columns[0]!
  const [text, setText] = useState(
    'value' in condition && !Array.isArray(condition.value) && !Number.isNaN(condition.value)
      ? String(condition.value)
      : '',
  )
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
      const number = readTyped(value)
      if (value.trim() !== '' && Number.isFinite(number)) onChange({ ...condition, value: number })
    } else if (condition.op === 'has' || condition.op === 'without') onChange({ ...condition, value })
  }
  const wrong = (condition.op === 'from' || condition.op === 'to') && text !== '' && !Number.isFinite(readTyped(text))
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
        {Object.entries(opLabels[column.isSet ? 'set' : column.kind === 'series' ? 'number' : column.kind]!).map(
          ([op, label]) => (
            <MenuItem key={op} value={op}>
              {label}
            </MenuItem>
          ),
        )}
        {column.limits?.map(limit => (
          <MenuItem key={limit.value} value={`within:${limit.value}`}>
            up to {limit.label}
          </MenuItem>
        ))}
      </Select>
      {'value' in condition && !Array.isArray(condition.value) && condition.op !== 'within' && (
        <TextField
          autoFocus
          value={text}
          error={wrong}
          helperText={wrong ? 'Type a number' : undefined}
          onChange={event => setValue(event.target.value)}
          sx={{ width: 130 }}
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
