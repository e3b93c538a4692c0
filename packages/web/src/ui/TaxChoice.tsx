import type { MappingPage } from '@culvert/contract'
import { isSupply, type Kind } from '@culvert/core'
import { useHref } from '../context/ClientContext.tsx'
import { PageLink } from './PageLink.tsx'
import { TaxCodePicker } from './TaxCodePicker.tsx'

interface TaxChoiceProps {
  readonly kind: Kind
  readonly label: string
  readonly page: Pick<MappingPage, 'taxByRows' | 'taxCodes'>
  readonly value: string | null
  readonly onChange: (code: string | null) => void
}

/** The tax code of a route; what supplies bear is decided apart, by where they go. */
export const TaxChoice = ({ kind, label, page, value, onChange }: TaxChoiceProps) => {
  const href = useHref()
  if (page.taxByRows && isSupply(kind))
    return (
      <PageLink textStyle="small" pl="9px" to={href('/mapping/tax')} aria-label={`${label}: by where it goes`}>
        by where it goes
      </PageLink>
    )
  return <TaxCodePicker label={label} codes={page.taxCodes} value={value} onChange={onChange} />
}
