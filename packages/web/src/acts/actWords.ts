import { type ActObjectRow, type ActRow, partsOfKey } from '@culvert/contract'
import { settlementPath } from '../context/settlementPath.ts'
import { readableDates } from '../ui/formats.ts'

const words: Readonly<Record<string, string>> = {
  post: 'posted',
  take_back: 'took back',
  set_aside: 'set aside',
  no_double: 'said to be no double',
  take_up: 'took up again',
  book_correction: 'booked a correction',
  confirm_pairings: 'confirmed pairings',
  undo_pairing: 'took pairings apart',
  code_line: 'coded a bank line',
  set_aside_bank: 'set aside at the bank',
  grant_bank: 'kept a bank’s grant',
  make_missing: 'made what was missing',
  ask_grant: 'asked to be let in',
  take_grant: 'was let in',
  refuse_grant: 'was not let in',
  end_grant: 'ended a grant',
  connect: 'connected',
  disconnect: 'disconnected',
  save_wording: 'changed a wording',
  state_balance: 'stated a balance',
  save_routes: 'saved routes',
  save_rules: 'saved rules',
  save_items: 'saved items',
  save_tax_codes: 'saved tax codes',
  save_tax_rows: 'saved the tax grid',
  row_aside: 'said what a row set aside is',
  save_rates: 'saved rates',
  save_contacts: 'saved contacts',
  remove_contact: 'removed a contact',
  save_open_items: 'saved open items',
  save_labels: 'saved labels',
  save_options: 'saved options',
  decide_dispute: 'decided a dispute',
  undo_dispute: 'took a decision back',
  decide_payments: 'decided payments',
  undo_payments: 'took decisions back',
  save_write_off: 'changed the limit of writing off',
  file_tax: 'filed a tax period',
  withdraw_tax_filing: 'withdrew a filing',
  save_registrations: 'saved tax registrations',
  answer_proof: 'answered a question of a proof',
  undo_proof_answer: 'withdrew an answer of a proof',
  post_opening: 'posted opening balances',
  undo_opening: 'took opening balances back',
  lock_period: 'locked a month',
  unlock_period: 'opened a month again',
  add_source: 'added a source',
  add_accounts: 'added accounts',
  bring: 'brought in',
  personal_data: 'said what customers’ data comes in',
  export_person: 'took out customers’ data',
  erase_person: 'erased customers’ data',
  ask: 'noted or asked',
  answer: 'answered',
  close_question: 'closed a question',
  attach: 'attached a file',
  ask_consent: 'asked for consent',
  refuse_consent: 'did not consent',
  give_consent: 'consented',
}

/** What was done, as a sentence goes on after who did it; of a word that is not known here, the word. */
export const actText = (sort: string): string => words[sort] ?? sort.replaceAll('_', ' ')

const subjectWords: Readonly<Record<string, string>> = {
  settlement: 'settlement',
  line: 'line',
  payment: 'payment',
  bank_line: 'bank line',
  pairing: 'pairing',
  entry: 'entry',
  account: 'account',
  source: 'source',
  route: 'route',
  rule: 'rule',
  item: 'item',
  tax_code: 'tax code',
  tax_row: 'row of the tax grid',
  product_class: 'class of products',
  label: 'label',
  rate: 'rate',
  contact: 'contact',
  open_item: 'open item',
  balance: 'balance',
  month: 'month',
  tax_filing: 'filing',
  client: 'client',
  person: 'customer',
  question: 'note',
  consent: 'request',
  grant: 'grant',
}

/** What is named by a key, as people know it. */
export const objectText = ({ subject, key }: Pick<ActObjectRow, 'subject' | 'key'>): string => {
  const [first = '', second = '', third = ''] = partsOfKey(key)
  const word = subjectWords[subject] ?? subject
  switch (subject) {
    case 'settlement':
      return second.startsWith('day:') ? `${first}:${second.slice(4)}` : second
    case 'bank_line':
      return `bank line ${second}`
    case 'line':
    case 'payment':
      return `${word} ${second}`
    case 'rate':
      return `rate ${second} to ${third} of ${first}`
    case 'open_item':
      return `${first} ${third} of ${second}`
    case 'product_class':
      return `class of ${[first, second].filter(Boolean).join(' in ')}`
    case 'client':
    case 'person':
    case 'question':
    case 'pairing':
    case 'consent':
    case 'grant':
      return `a ${word}`
    default:
      return `${word} ${first}`
  }
}

/** Where the page of an object is, within the client; null where it has none. */
export const objectPath = ({ subject, key }: Pick<ActObjectRow, 'subject' | 'key'>): string | null => {
  const [first = '', second = '', third = ''] = partsOfKey(key)
  switch (subject) {
    case 'settlement':
      return settlementPath({ source: first, key: second, currency: third })
    case 'entry':
      return `/books/entries/${encodeURIComponent(first)}`
    case 'account':
      return `/books/register/${encodeURIComponent(first)}`
    case 'source':
      return `/sources/${encodeURIComponent(first)}`
    case 'bank_line':
      return `/bank/${encodeURIComponent(first)}`
    case 'payment':
      return '/payments'
    case 'route':
      return '/mapping'
    case 'rule':
      return '/mapping/rules'
    case 'item':
      return '/mapping/items'
    case 'tax_code':
      return '/mapping/tax/codes'
    case 'tax_row':
      return '/mapping/tax'
    case 'month':
      return '/close'
    case 'contact':
      return '/books/contacts'
    case 'open_item':
      return '/books/open-items'
    case 'rate':
      return '/books/rates'
    default:
      return null
  }
}

/** One fact of an object that an act changed. */
export interface Difference {
  readonly name: string
  readonly before: string | null
  readonly after: string | null
}

const factText = (value: string | number | boolean | null | undefined): string | null =>
  value === null || value === undefined
    ? null
    : value === true
      ? 'yes'
      : value === false
        ? 'no'
        : readableDates(String(value))

// As it is named in what is kept: `taxCode`, `tax_code`.
const nameText = (name: string): string =>
  name
    .replaceAll('_', ' ')
    .replaceAll(/([a-z])([A-Z])/g, '$1 $2')
    .toLowerCase()

/** What differs of an object before and after an act, by name. */
export const differencesOf = ({ before, after }: Pick<ActObjectRow, 'before' | 'after'>): Difference[] =>
  [...new Set([...Object.keys(before ?? {}), ...Object.keys(after ?? {})])]
    .sort()
    .map(name => ({ name: nameText(name), before: factText(before?.[name]), after: factText(after?.[name]) }))
    .filter(one => one.before !== one.after)

/** Differences in one line. */
export const differenceText = (object: ActObjectRow): string => {
  const differences = differencesOf(object)
  if (object.after === null && object.before !== null) return 'taken away'
  return differences
    .map(({ name, before, after }) =>
      before === null ? `${name} ${after}` : `${name} ${before} → ${after === null ? 'none' : after}`,
    )
    .join(', ')
}

/** Who did something; nobody who signs in is the client, by a link. */
export const personText = ({ by }: Pick<ActRow, 'by'>): string => (by.id === 0 ? 'the client, by a link' : by.name)
