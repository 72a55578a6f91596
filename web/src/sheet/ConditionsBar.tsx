import type { Condition } from '@dew-trail/core/tables/column-spec'
import { Plus, X } from 'lucide-react'
import { type KeyboardEvent, type ReactNode, useEffect, useRef, useState } from 'react'
import type { SheetColumn } from './columns.ts'
import { conditionWords } from './condition-words.ts'
import { freshCondition, isBlank } from './fresh-condition.ts'
import type { SheetState } from './use-sheet-state.ts'
import { Popover } from '../ui/floating-later.tsx'
import { later } from '../ui/later.tsx'
import { TextInput } from '../ui/TextInput.tsx'

const ConditionEditor = later(
  () => import('./ConditionEditor.tsx'),
  module => module.default,
)

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
      <TextInput
        label="Contains"
        inputRef={box}
        value={typed}
        onChange={event => setTyped(event.target.value)}
        placeholder="Contains…  /"
        title={'Words in any order; "a phrase" in quotes; kiln or oven; pott* for any ending'}
        sx={{ width: 170 }}
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
          <ConditionEditor
            condition={edited}
            columns={columns.filter(column => column.kind !== 'series' && !hide.includes(column.key))}
            onChange={change}
          />
        </Popover>
      )}
    </div>
  )
}
