import type { DocumentRef } from '@culvert/core'
import { is, type Reader, Unread } from '../database/rows.ts'

const readers: { readonly [Of in DocumentRef['of']]: Reader<Extract<DocumentRef, { of: Of }>> } = {
  settlement: is.record({ of: is.oneOf('settlement'), source: is.text, key: is.text }),
  order: is.record({ of: is.oneOf('order'), source: is.text, order: is.text }),
  line: is.record({ of: is.oneOf('line'), source: is.text, lineId: is.text }),
  entry: is.record({ of: is.oneOf('entry'), fiscalYear: is.whole, number: is.whole }),
  source: is.record({ of: is.oneOf('source'), source: is.text }),
  account: is.record({ of: is.oneOf('account'), account: is.text }),
}
const sort = is.record({ of: is.oneOf('settlement', 'order', 'line', 'entry', 'source', 'account') })

/** Reads which document an amount is of. @throws Unread */
export const documentRef: Reader<DocumentRef> = value => {
  const { of } = sort(value)
  const read = readers[of]
  if (!read) throw new Unread(`${of} is no document`)
  return read(value)
}
