import type { TaxCodeRow } from '@culvert/contract'
import { Select } from './Select.tsx'

interface TaxCodePickerProps {
  readonly label: string
  readonly codes: readonly TaxCodeRow[]
  readonly value: string | null
  readonly onChange: (code: string | null) => void
}

/** Chooses a tax code, or none. */
export const TaxCodePicker = ({ label, codes, value, onChange }: TaxCodePickerProps) => (
  <Select
    aria-label={label}
    value={value ?? ''}
    onChange={event => onChange(event.target.value === '' ? null : event.target.value)}
  >
    <option value="">– no tax</option>
    {codes.map(code => (
      <option key={code.code} value={code.code} title={code.name}>
        {code.code}
      </option>
    ))}
  </Select>
)
