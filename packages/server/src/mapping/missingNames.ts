import type { MissingItem, MissingNames, makeNamesBody } from '@culvert/contract'
import { contactSorts, foldName, proposeContacts, type WantedContact } from '@culvert/core'
import { sql } from 'drizzle-orm'
import type { z } from 'zod'
import { Refused } from '../access/refused.ts'
import { touchables } from '../acts/changes.ts'
import { saveMap } from '../composing/saveMap.ts'
import { type Actor, asClient, type Database, rowsOf, type Transaction } from '../database/connect.ts'
import { holdSources } from '../database/locks.ts'
import { retrying } from '../database/retry.ts'
import { is } from '../database/rows.ts'
import { loadContacts, standFor } from '../ledger/contacts.ts'
import { currentVersion, loadItems, loadRules } from '../setup/loadMap.ts'
import { loadAccounts } from './loadMapping.ts'
import { loadProducts } from './productsSeen.ts'
import { storeItems } from './saveItems.ts'

// Whom and what documents will name: a standing contact of each source, those that rules name, an item of each product sold. Journals name none of them.

const sourceKey = (source: string): string => `source ${source}`
const ruleKey = (name: string): string => `rule ${name}`
const isOfRule = (key: string): boolean => key.startsWith(ruleKey(''))

/** Computes which contacts and items stand for nobody and nothing yet. */
export const loadMissingNames = async (tx: Transaction): Promise<MissingNames> => {
  const known = (await loadContacts(tx)).map(({ code, name }) => ({ code, name }))
  const items = await missingItems(tx)
  return {
    version: await currentVersion(tx),
    known,
    contacts: proposeContacts([...(await sourcesWithout(tx)), ...(await namedByRules(tx, known))], known).map(
      ({ key, name, sort, use, make }) => ({
        ...{ key, name, sort, make },
        of: isOfRule(key) ? 'rule' : 'source',
        // What a rule names is called so: another's name in its place is the rule's matter.
        use:
          use === null || isOfRule(key)
            ? null
            : { ...use, name: known.find(contact => contact.code === use.code)?.name ?? '' },
      }),
    ),
    ...items,
    chart: await loadAccounts(tx),
  }
}

// What sells is a customer as one; what takes fees is a supplier; what does both is both.
const sourcesWithout = async (tx: Transaction): Promise<WantedContact[]> =>
  (
    await rowsOf(
      tx,
      { source: is.text, name: is.text, sort: is.oneOf(...contactSorts) },
      sql`SELECT source, name, CASE shape WHEN 'channel' THEN 'customer' WHEN 'gateway' THEN 'supplier' ELSE 'both' END AS sort FROM source s
        WHERE client_id = current_client() AND contact IS NULL
          AND EXISTS (SELECT FROM activity_line l WHERE l.client_id = s.client_id AND l.source = s.source)
        ORDER BY name, source`,
    )
  ).map(({ source, name, sort }) => ({ key: sourceKey(source), name, sort }))

const namedByRules = async (
  tx: Transaction,
  known: readonly { readonly code: string; readonly name: string }[],
): Promise<WantedContact[]> => {
  const there = new Set(known.flatMap(({ code, name }) => [foldName(code), foldName(name)]))
  const names = new Map<string, string>()
  for (const { actions } of await loadRules(tx))
    for (const action of actions)
      if (action.set === 'contact' && !there.has(foldName(action.contact)))
        names.set(foldName(action.contact), action.contact)
  return [...names.values()].sort().map(name => ({ key: ruleKey(name), name, sort: 'both' }))
}

const missingItems = async (tx: Transaction): Promise<{ items: MissingItem[]; untold: number }> => {
  const items = new Map<string, MissingItem>()
  let untold = 0
  for (const product of (await loadProducts(tx)).products) {
    if (product.found !== 'none') continue
    const { sku, title, sourceName, amount, lines, goesTo } = product
    if (sku === '' || sku.length > mostLetters || !goesTo?.account) {
      untold++
      continue
    }
    const before = items.get(sku)
    items.set(
      sku,
      before
        ? {
            ...before,
            amount: before.amount + amount,
            lines: before.lines + lines,
            sources: [...new Set([...before.sources, sourceName])],
            otherNames: isTold(title, before) ? before.otherNames : [...before.otherNames, title],
          }
        : {
            sku,
            name: title.slice(0, mostOfName) || sku,
            otherNames: [],
            sources: [sourceName],
            amount,
            lines,
            account: goesTo.account,
          },
    )
  }
  return { items: [...items.values()], untold }
}
/** Letters of an item's number, and of a name of it. */
const mostLetters = 100
const mostOfName = 300

// What is no name, or none that an item could bear, tells nothing new.
const isTold = (title: string, { name, otherNames }: MissingItem): boolean =>
  title.length > mostOfName || [name, ...otherNames, ''].some(known => foldName(known) === foldName(title))

type Wanted = z.output<typeof makeNamesBody>

/**
 * Makes contacts and items, or says which contact there is stands for a source; items as a version of the setup, without a tax code of their own: what is not posted is
 * composed anew. Nothing is made that is not lacking. @throws Refused, MapRefused, Conflict
 */
export const makeNames = async (
  database: Database,
  actor: Actor,
  wanted: Wanted,
): Promise<{ contacts: number; items: number }> => {
  if (wanted.items.length === 0)
    return retrying(() => asClient(database, actor, async tx => makeContacts(tx, actor, wanted)))
  const { result } = await saveMap(database, actor, {
    act: 'save_items',
    note: `${wanted.items.length} items`,
    madeFrom: wanted.version,
    part: async tx => touchables('item', await loadItems(tx), row => row.code),
    change: async tx => {
      const missing = new Map((await missingItems(tx)).items.map(item => [item.sku, item]))
      const made = wanted.items.map(({ sku, name, account }) => {
        const item = missing.get(sku)
        if (!item) throw new Refused('not_missing')
        const others = name === item.name ? item.otherNames : [...item.otherNames, item.name]
        return { code: sku, name, otherNames: others.filter(Boolean), account, taxCode: null, costs: [] }
      })
      await storeItems(tx, made)
      return { ...(await makeContacts(tx, actor, wanted)), items: made.length }
    },
  })
  return result
}

const makeContacts = async (
  tx: Transaction,
  actor: Actor,
  wanted: Wanted,
): Promise<{ contacts: number; items: number }> => {
  if (wanted.contacts.length === 0) return { contacts: 0, items: 0 }
  // Sources before contacts, as whoever changes a source holds them.
  await holdSources(
    tx,
    (await sourcesWithout(tx)).map(({ key }) => key.slice(sourceKey('').length)),
    'store',
  )
  const known = await loadContacts(tx)
  const missing = new Map(
    [...(await sourcesWithout(tx)), ...(await namedByRules(tx, known))].map(one => [one.key, one] as const),
  )
  const stands = wanted.contacts.map(({ key, use, make }) => {
    const one = missing.get(key)
    const there = known.find(contact => contact.code === (use ?? make?.code))
    if (!one || (use === null ? make === null : !there || isOfRule(key))) throw new Refused('not_missing')
    // What is made under a number that is taken would go over somebody.
    if (use === null && there && foldName(there.name) !== foldName(make?.name ?? ''))
      throw new Refused('contact_taken', { contact: there.code })
    const contact = there ?? { ...(make as NonNullable<typeof make>), ...nobody }
    return {
      source: key.startsWith(sourceKey('')) ? key.slice(sourceKey('').length) : null,
      contact: { ...contact, sort: there === undefined || there.sort === one.sort ? one.sort : ('both' as const) },
    }
  })
  await standFor(tx, actor, stands)
  return { contacts: wanted.contacts.length, items: 0 }
}
const nobody = { email: null, taxNumber: null, country: null }
