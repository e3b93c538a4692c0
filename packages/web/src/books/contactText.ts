import type { ContactRow, OpenItemRow } from '@culvert/contract'

export const contactSortText: Record<ContactRow['sort'], string> = {
  customer: 'customer',
  supplier: 'supplier',
  both: 'customer and supplier',
}
export const itemSortText: Record<OpenItemRow['sort'], string> = { invoice: 'invoice', bill: 'bill' }
