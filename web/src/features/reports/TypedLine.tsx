import { useRef, useState } from 'react'

type Props = {
  label: string
  value: string
  most: number
  isRight?: (text: string) => boolean
  onSave(text: string): void
  strong?: boolean
  width?: number
  placeholder?: string
  optional?: boolean
}
/** A line of text that is saved when it is left or Enter is pressed; what is not right stays unsaved, and Escape brings back what was. */
export function TypedLine({
  label,
  value,
  most,
  isRight,
  onSave,
  strong,
  width,
  placeholder,
  optional = false,
}: Props) {
  const [text, setText] = useState(value)
  const [shown, setShown] = useState(value)
  // What somebody else saved meanwhile is taken over, unless something is being typed here.
  if (shown !== value) {
    setShown(value)
    if (text === shown) setText(value)
  }
  const right = (optional || text.trim() !== '') && (isRight?.(text.trim()) ?? true)
  // Enter saves and so does leaving: the same is not sent twice while its answer is under way.
  const sent = useRef(value)
  if (sent.current !== value && text === value) sent.current = value
  const save = () => {
    const next = text.trim()
    if (!right || next === value || next === sent.current) return
    sent.current = next
    onSave(next)
  }
  return (
    <input
      className={strong ? 'typed-line strong' : 'typed-line'}
      aria-label={label}
      aria-invalid={!right}
      placeholder={placeholder}
      maxLength={most}
      value={text}
      style={width ? { width } : {}}
      onChange={event => setText(event.target.value)}
      onBlur={save}
      onKeyDown={event => {
        if (event.key === 'Enter') save()
        if (event.key === 'Escape') setText(value)
      }}
    />
  )
}
