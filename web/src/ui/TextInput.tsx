import { FormControl, FormHelperText, OutlinedInput, type OutlinedInputProps } from '@mui/material'

type Props = Omit<OutlinedInputProps, 'error'> & { label: string; error?: boolean; helperText?: string | undefined }

/** A box for typed text whose label is read out but not drawn. Lighter than a TextField, which brings all that lists of choices need. */
export function TextInput({ label, error = false, helperText, sx, ...rest }: Props) {
  return (
    <FormControl size="small" error={error} sx={sx ?? null}>
      <OutlinedInput {...rest} inputProps={{ ...rest.inputProps, 'aria-label': label }} />
      {helperText && <FormHelperText>{helperText}</FormHelperText>}
    </FormControl>
  )
}
