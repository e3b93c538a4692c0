import type { MakeNames, MissingContact, MissingItem, MissingNames } from '@culvert/contract'

/** What somebody chose for a contact or an item that is missing; what is undefined was not touched. */
interface ChosenName {
  readonly taken?: boolean
  /** Of a contact: number of one there is; null: a new one. */
  readonly use?: string | null
  readonly name?: string
  readonly account?: string
}

/** By the key of a contact, or `item` and the SKU. */
export type NamesDraft = ReadonlyMap<string, ChosenName>

export const itemKey = ({ sku }: Pick<MissingItem, 'sku'>): string => `item ${sku}`

/** What stands for a contact: taken by itself is whoever bears the name, and who is new where nobody is like it. */
export const contactChoice = (row: MissingContact, draft: NamesDraft) => {
  const chosen = draft.get(row.key) ?? {}
  const use = chosen.use === undefined ? (row.use?.code ?? null) : chosen.use
  const name = chosen.name ?? row.make.name
  const isSure = row.use === null || row.use.why === 'same_name' || chosen.use !== undefined
  return { use, name, taken: (use !== null || name.trim() !== '') && (chosen.taken ?? isSure) }
}

export const itemChoice = (row: MissingItem, draft: NamesDraft) => {
  const chosen = draft.get(itemKey(row)) ?? {}
  const name = chosen.name ?? row.name
  return { name, account: chosen.account ?? row.account, taken: name.trim() !== '' && (chosen.taken ?? true) }
}

/** What a press would make of it. */
export const wantedNames = (names: MissingNames, draft: NamesDraft): MakeNames => ({
  version: names.version,
  contacts: names.contacts.flatMap(row => {
    const { use, name, taken } = contactChoice(row, draft)
    if (!taken) return []
    return [{ key: row.key, use, make: use === null ? { code: codeOf(row, name), name: name.trim() } : null }]
  }),
  items: names.items.flatMap(row => {
    const { name, account, taken } = itemChoice(row, draft)
    return taken ? [{ sku: row.sku, name: name.trim(), account }] : []
  }),
})

// One that is called otherwise is numbered by what it is called.
const codeOf = ({ make }: MissingContact, name: string): string =>
  name.trim() === make.name ? make.code : name.trim().slice(0, 100)
