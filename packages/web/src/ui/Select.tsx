import { NativeSelect, type NativeSelectFieldProps } from '@chakra-ui/react'

interface SelectProps extends NativeSelectFieldProps {
  readonly disabled?: boolean
}

/** Chooses one of a few. `w` is the width of the whole; all else goes to the field. */
export const Select = ({ w, disabled = false, ...field }: SelectProps) => (
  <NativeSelect.Root disabled={disabled} {...(w === undefined ? {} : { w })}>
    <NativeSelect.Field {...field} />
  </NativeSelect.Root>
)
