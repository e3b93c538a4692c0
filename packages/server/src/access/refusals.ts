import {
  type ImportHold,
  type MemberRefusal,
  memberRefusals,
  type Right,
  type Role,
  rightsOfRole,
  roles,
} from '@culvert/contract'
import { formatAmount, type RateFault } from '@culvert/core'

/** A refusal’s HTTP status and its words, made of its figures. */
const said = <Figures extends object = Readonly<Record<never, never>>>(
  status: number,
  words: (figures: Figures) => string,
): { readonly status: number; readonly words: (figures: Figures) => string } => ({ status, words })

const month = (date: string): string => date.slice(0, 7)

const rateFaults: Record<RateFault, (rate: { date: string; from: string; to: string; rate: string }) => string> = {
  not_a_date: ({ date }) => `${date} is no date`,
  unknown_currency: ({ from, to }) => `${from} or ${to} is no currency`,
  same_currency: ({ from }) => `a rate from ${from} to itself says nothing`,
  not_a_rate: ({ rate }) => `“${rate}” is no rate above zero`,
}

const lineFaults: Readonly<Record<string, string>> = {
  account_unusable: 'the account is archived, unknown, or of another currency',
  tax_code_missing: 'the tax code does not exist, or has no rate on this day',
  rate_missing: 'no exchange rate is known on or before this day',
}
const disputeFaults: Readonly<Record<string, string>> = {
  unmapped: 'refunds of it have no route',
  tax_code_missing: 'nothing says which tax a refund of it bears',
  account_unusable: 'an account is archived, unknown, or of another currency',
  rate_missing: 'no exchange rate is known on or before that day',
  rule: 'a rule stops it',
}

const decisionFaults: Readonly<Record<string, string>> = {
  unmapped: 'discounts or refunds of its order have no route',
  tax_code_missing: 'nothing says which tax it bears',
  account_unusable: 'an account is archived, unknown, or of another currency',
  rate_missing: 'no exchange rate is known on or before that day',
  rule: 'a rule stops it',
}
const hindrances = {
  not_posted: 'its settlement is not posted, or was revised since',
  no_account: 'it stands on no account',
  taxed_by_route: 'its route took tax out of it; take its settlement back and route it anew',
}

const many = (count: number, one: string, more: string): string => (count === 1 ? `one ${one}` : `${count} ${more}`)
const importHoldWords: Record<ImportHold, (count: number) => string> = {
  posted: count => `${many(count, 'settlement is', 'settlements are')} posted with it`,
  tied_posted: count =>
    `${many(count, 'posted settlement holds', 'posted settlements hold')} payments that are tied to it`,
  taxes_posted: count => `${many(count, 'posted settlement is', 'posted settlements are')} taxed by it`,
  changed_since: count => `${many(count, 'row', 'rows')} of it came again since with something else`,
  decided: count => `somebody has decided about ${many(count, 'payment', 'payments')} of it`,
  bank_decided: count => `${many(count, 'line of it is or was', 'lines of it are or were')} paired, coded or set aside`,
  overlapped: count =>
    `${many(count, 'later file or pull', 'later files or pulls')} told the same again, and left it out as known`,
  noted: count => `${many(count, 'note stands', 'notes stand')} on lines of it`,
}

const roleWords: Record<Role, string> = {
  owner: 'the practice’s owner',
  bookkeeper: 'a bookkeeper',
  junior: 'a junior',
  accountant: 'an accountant',
  guest: 'a guest',
}
const rightWords: Record<Right, string> = {
  anyone: 'anything',
  enter: 'signing in',
  own: 'one’s own account',
  people: 'inviting people and saying what they may do',
  take_on: 'taking clients on',
  read: 'reading the books',
  bring: 'bringing in activity and statements',
  connect: 'connecting sources',
  map: 'changing the map',
  settle: 'setting settlements aside',
  pair: 'pairing and deciding payments',
  post: 'posting and taking back',
  close: 'locking months',
  file: 'filing tax periods',
  comment: 'noting and asking',
  asked: 'answering what one is asked',
  erase: 'erasing what is kept of customers',
}
/** Whose it is, where it is not one's own. */
const mayNot = ({ right, role }: { right: Right; role: Role | null }): string => {
  const whose = roles.filter(one => one !== role && rightsOfRole[one].has(right)).map(one => roleWords[one])
  const mine = role === null ? 'Whoever is of no practice' : roleWords[role].replace(/^./, first => first.toUpperCase())
  return `${mine} may not do this: ${rightWords[right]} is for ${whose.join(' or ')}. Nothing was changed.`
}

/** Everything that can be refused by name: whoever refuses says which and with what figures; it is worded here and nowhere else. */
export const refusals = {
  import_not_in: said(409, () => 'this file did not come in: there is nothing to take back'),
  import_taken_back: said(409, () => 'this file was taken back already'),
  import_unknown: said(
    409,
    () => 'this file came in before it was kept what a file brings: it cannot be told apart from the rest',
  ),
  import_held: said(
    409,
    ({ holds }: { holds: readonly { code: ImportHold; count: number }[] }) =>
      `this file is not taken back: ${holds.map(({ code, count }) => importHoldWords[code](count)).join('; ')}`,
  ),
  not_found: said(404, (of: { what: string }) => `no such ${of.what}`),
  // Requests
  address_unreadable: said(400, () => 'the address is not readable'),
  text_unstorable: said(
    400,
    (of: { field: string }) => `${of.field}: holds a sign that cannot be stored, or is nested too deep`,
  ),
  host_unknown: said(403, () => 'this address is not served here'),
  not_signed_in: said(401, () => 'Nobody is signed in, or not any more. Sign in, and go on: nothing is lost.'),
  may_not: said(403, (of: { right: Right; role: Role | null }) => mayNot(of)),
  token_may_not: said(403, (of: { right: Right }) => `The token has no right to this: ${rightWords[of.right]}.`),
  // Signing in
  sign_in_failed: said(401, () => 'The address or the password is not right.'),
  second_factor_failed: said(401, () => 'The code is not right, or was used already.'),
  password_wrong: said(403, () => 'The password is not right.'),
  too_many_tries: said(
    429,
    (of: { minutes: number }) =>
      `Too many tries that failed. Wait ${of.minutes} ${of.minutes === 1 ? 'minute' : 'minutes'}, or use a browser that signed in before.`,
  ),
  link_spent: said(410, () => 'The link was used, withdrawn, or is too old. Ask for a new one.'),
  password_known: said(422, () => 'The password is among those that are tried first. Choose another.'),
  address_taken: said(409, () => 'Somebody signs in with this address already.'),
  first_person_tells: said(422, () => 'The first person says their address, and what the practice is called.'),
  last_owner: said(409, () => 'A practice has an owner: make somebody else one first.'),
  // What is missing
  not_missing: said(409, () => 'Something of it is not missing any more. Look again; nothing was made.'),
  tax_code_taken: said(
    409,
    (of: { code: string }) => `There is a tax code ${of.code} already. Choose another name for it; nothing was made.`,
  ),
  fee_tax_unsaid: said(
    422,
    (of: { kind: string }) =>
      `Say first which tax ${of.kind.replaceAll('_', ' ')} bears, or that it bears none. Nothing was made.`,
  ),
  // What services grant
  service_unknown: said(
    404,
    (of: { service: string }) => `“${of.service}” cannot be connected here. Bring in its activity as files.`,
  ),
  service_silent: said(424, (of: { why: string }) => `${of.why}. Nothing was changed; try again.`),
  grant_spent: said(
    410,
    () => 'This was answered already, was asked by somebody else, or is too old. Begin to connect again.',
  ),
  grant_ended: said(
    409,
    (of: { name: string }) => `What ${of.name} granted has ended. Connect it again; what was brought in stays.`,
  ),
  grant_serves: said(409, (of: { sources: string }) => `It is what ${of.sources} is pulled by. Disconnect there.`),
  shop_taken: said(
    409,
    (of: { shop: string; serves: string | null }) =>
      `${of.shop} serves ${of.serves ?? 'another client'} already; one shop serves one client. Disconnect it there first. Nothing was changed.`,
  ),
  news_unsigned: said(401, () => 'These news are not signed as they should be.'),
  shop_not_there: said(
    409,
    (of: { login: string; shop: string }) =>
      `Whoever signed in there (${of.login}) does not hold the shop that this source is of (${of.shop}). Sign in as who does; nothing was changed.`,
  ),
  // Questions and consents
  no_question: said(409, () => 'It is a note, and asks nothing.'),
  question_closed: said(409, () => 'The question is closed.'),
  question_unopened: said(403, () => 'Open the question first.'),
  question_elsewhere: said(
    403,
    () => 'The question was opened in another browser, and opens in no other. Answer it there, or ask for a new link.',
  ),
  no_evidence: said(
    415,
    () =>
      'Only whole pictures (PNG, JPEG, WebP, GIF) and PDFs are taken; this file is none, whatever its name. Nothing was kept.',
  ),
  too_much_evidence: said(
    409,
    (of: { most: number }) => `A question takes at most ${of.most} files. Nothing was kept.`,
  ),
  consent_moved: said(
    409,
    () =>
      'What was asked for is not any more what it was: something of it, or of the setup, changed. Nothing was done; it is to be asked for again.',
  ),
  consent_decided: said(409, () => 'It is decided already.'),
  own_consent: said(403, () => 'One does not consent to what one asked for oneself.'),
  not_to_consent: said(
    409,
    (of: { count: number }) =>
      `${of.count === 1 ? 'One of what you chose' : `${of.count} of what you chose`} cannot be done as it stands; leave it out, and ask again.`,
  ),
  not_oneself: said(409, () => 'What one may do oneself another owner says.'),
  foreign_page: said(403, () => 'changes are made from Culvert’s own pages'),
  file_too_large: said(
    413,
    (of: { mostBytes: number }) =>
      `A file may have at most ${of.mostBytes / 1_000_000_000} GB. Nothing was changed; bring it in as several files.`,
  ),
  file_too_slow: said(408, () => 'The file came too slowly and was given up. Nothing was changed; try again.'),
  file_not_whole: said(400, () => 'The file did not come whole. Nothing was changed; try again.'),
  currency_unknown: said(
    400,
    (of: { currency: string; field?: string }) =>
      `${of.field === undefined ? '' : `${of.field}: `}${of.currency} is no currency`,
  ),
  zone_unknown: said(400, (of: { zone: string }) => `timeZone: ${of.zone} is no time zone`),
  client_archived: said(
    409,
    () => 'The client is archived: its books are read, and not written. Take it up again first.',
  ),
  client_has_entries: said(
    409,
    () => 'Entries stand in its ledger: a client with entries is archived, not removed. Nothing was changed.',
  ),
  name_differs: said(422, () => 'Type the name as it stands, so that nothing is removed by mistake.'),
  fixed_once_brought: said(
    409,
    () =>
      'Its time zone and the end of its business day say which day each line belongs to. They can change only while no activity is there. Nothing was changed.',
  ),
  fixed_once_numbered: said(
    409,
    () =>
      'Entries have their numbers by the fiscal year as it is: it and the first number can change only before the first entry. Nothing was changed.',
  ),
  account_in_use: said(
    409,
    (of: { what: string; uses: string }) =>
      `Its ${of.what} stays as long as something rests on it: ${of.uses}. Nothing was changed.`,
  ),
  takes_no_payments: said(
    422,
    (of: { account: string }) =>
      `${of.account} is no bank or card account that takes payments: nothing is paid into it or drawn from it.`,
  ),
  account_not_empty: said(
    409,
    (of: { uses: string }) =>
      `It is archived once it is empty and nothing uses it any more: ${of.uses}. Nothing was changed.`,
  ),
  account_taken: said(409, (of: { code: string }) => `There is an account ${of.code} already.`),
  registration_unknown: said(404, () => 'There is no such tax registration.'),
  tax_code_unknown: said(422, (of: { code: string }) => `There is no tax code ${of.code}.`),
  source_unknown: said(404, (of: { source: string }) => `This client has no source ${of.source}.`),
  bank_number_other: said(
    409,
    (of: { account: string; number: string }) =>
      `${of.account} is no bank or card account that could have the number ${of.number}, or it has another number already.`,
  ),
  bank_number_taken: said(409, (of: { number: string }) => `${of.number} is the number of another account already.`),
  source_taken: said(
    409,
    (of: { source: string }) => `There is a source ${of.source} already. Give this one another name.`,
  ),
  source_posted: said(409, () => 'Entries of it stand in the ledger: such a source stays. Nothing was changed.'),
  source_tied: said(
    409,
    () =>
      'What it collected, or what was tendered, is tied to lines of another source: such a source stays. Nothing was changed.',
  ),
  clearing_posted: said(
    409,
    (of: { currency: string }) =>
      `Settlements in ${of.currency} are posted through its clearing account, which stays. Nothing was changed.`,
  ),
  job_over: said(409, () => 'It is over already.'),
  // Sources
  address_not_asked: said(422, (of: { why: string }) => `This address is not asked: ${of.why}. Nothing was changed.`),
  not_connected: said(409, () => 'This source is not connected; bring its activity in as files.'),
  basis_moved: said(
    409,
    () => 'By what its lines count was changed while they were read; nothing was stored. Bring them in again.',
  ),
  contact_unknown: said(
    404,
    (of: { contact: string }) => `${of.contact} is no contact of this client. Nothing was changed.`,
  ),
  contact_open: said(
    409,
    (of: { contact: string }) =>
      `Something is open with ${of.contact}, or a source stands under it: take that out first. Nothing was changed.`,
  ),
  contact_taken: said(409, (of: { contact: string }) => `${of.contact} is another contact’s number. Nothing was made.`),
  posted_before: said(
    409,
    (of: { posted: number; until: string | null }) =>
      `${of.posted === 1 ? 'A settlement of it that begins before that day is' : `${of.posted} settlements of it that begin before that day are`} posted here${of.until ? `, to ${of.until}` : ''}. Take them back first; nothing was changed.`,
  ),
  fixed_once_posted: said(
    409,
    () =>
      'Settlements of this source are posted: whether months are split, and whether what is pending is booked, can change only while none is. Take them back first.',
  ),
  account_unusable: said(422, (of: { account: string }) => `${of.account} is no account that can be booked to.`),
  // Mapping
  saved_meanwhile: said(
    409,
    (of: { by: string; version: number; madeFrom: number }) =>
      `Meanwhile ${of.by} saved version ${of.version} of the map; yours was made from version ${of.madeFrom}. Nothing of either is lost: theirs is shown now beside yours. Look, and save again.`,
  ),
  tax_by_rows: said(409, () => 'Tax rows decide what supplies bear already; routes cannot decide it again.'),
  item_to_clearing: said(
    422,
    (of: { item: string; account: string }) =>
      `Item ${of.item} points to ${of.account}, a clearing account: what is sold is no money on its way.`,
  ),
  route_gone: said(
    409,
    (of: { route: number }) => `Route ${of.route} is not there any more. Look again, and save what is still meant.`,
  ),
  other_clearing: said(
    409,
    (of: { accounts: readonly string[] }) =>
      `${of.accounts.join('; ')} is the clearing account of another source. Only tenders go there by themselves: the proof of that account cannot explain anything else, and will name it. Is it meant?`,
  ),
  // Settlements
  not_posted: said(409, () => 'The settlement is not posted.'),
  nothing_to_correct: said(409, () => 'There is nothing to correct any more.'),
  correction_blocked: said(
    409,
    () =>
      'With its revised lines the settlement would be blocked; see its reasons, then take it back and post it again.',
  ),
  payout_changed: said(409, () => 'A payout itself changed. Take the settlement back and post it again.'),
  // Payments
  chargeback_unknown: said(404, () => 'There is no such chargeback.'),
  chargeback_not_open: said(
    409,
    (of: { state: string }) => `It is not open any more, or not on an account of disputed payments: ${of.state}.`,
  ),
  decided_too_early: said(
    422,
    (of: { since: string }) => `It was taken back on ${of.since}: it cannot be decided before.`,
  ),
  dispute_not_bookable: said(
    422,
    (of: { reason: string }) => `It cannot be booked: ${disputeFaults[of.reason] ?? of.reason}.`,
  ),
  nothing_left: said(422, () => 'Nothing of it is left to book.'),
  payment_not_open: said(
    409,
    (of: { line: string }) => `${of.line} is not on one side only any more, or was decided meanwhile. Look again.`,
  ),
  payment_changed: said(
    409,
    (of: { line: string }) => `What is open of ${of.line} is another amount by now. Look again.`,
  ),
  payment_hindered: said(
    409,
    (of: { line: string; why: keyof typeof hindrances }) => `${of.line} cannot be booked yet: ${hindrances[of.why]}.`,
  ),
  beyond_write_off: said(409, (of: { line: string }) => `${of.line} is more than may be written off.`),
  decision_not_bookable: said(
    422,
    (of: { line: string; reason: string }) =>
      `${of.line} cannot be booked so: ${decisionFaults[of.reason] ?? of.reason}.`,
  ),
  not_routed: said(
    409,
    (of: { line: string }) => `No route says where ${of.line} goes. Add one under Mapping, or decide otherwise.`,
  ),
  decision_not_offered: said(422, (of: { line: string }) => `That cannot be decided of ${of.line}.`),
  decided_twice: said(422, (of: { line: string }) => `${of.line} is in two of these decisions.`),
  not_attachable: said(
    409,
    (of: { line: string }) => `${of.line} is not open, or not of the same gateway, currency and direction.`,
  ),
  account_missing: said(422, () => 'Say to which account it goes.'),
  account_not_for_decisions: said(
    422,
    (of: { account: string }) =>
      `${of.account} is no account for this: money, tax and what customers owe move by their own documents.`,
  ),
  reason_missing: said(422, () => 'Say why it is set aside.'),
  waits_for_the_past: said(422, () => 'Say a day that is still to come.'),
  limit_changed: said(409, () => 'Somebody else has changed the limit meanwhile. Look again.'),
  nothing_decided: said(409, () => 'Nothing stands decided of it.'),
  // Bank
  nothing_selected: said(422, () => 'Nothing is selected.'),
  not_set_aside: said(409, (of: { reason: MemberRefusal }) => `Nothing was set aside: ${memberRefusals[of.reason]}.`),
  names_another: said(
    422,
    (of: { wording: string; source: string }) =>
      `“${of.wording}” names ${of.source} already: it would name two payers.`,
  ),
  line_not_open: said(409, () => 'This bank line is not open any more.'),
  own_account: said(422, () => 'A bank line cannot be coded to its own account.'),
  line_not_bookable: said(
    422,
    (of: { reason: string }) => `It cannot be booked: ${lineFaults[of.reason] ?? of.reason}.`,
  ),
  line_of_nothing: said(422, () => 'A bank line of nothing needs no entry; set it aside.'),
  // Clearing and books
  no_balance_to_state: said(404, () => 'This account has no balance in this currency that could be stated.'),
  held_in_another: said(
    422,
    (of: { account: string; currency: string; base: string }) =>
      `${of.account} is held in ${of.currency}; opening balances are entered in ${of.base}.`,
  ),
  named_twice: said(422, (of: { account: string }) => `${of.account} is named twice.`),
  nothing_on_it: said(422, (of: { account: string }) => `${of.account} has nothing on it.`),
  sides_differ: said(
    422,
    (of: { difference: number; base: string }) =>
      `Debits and credits differ by ${formatAmount(of.difference, of.base)}: nothing was posted.`,
  ),
  opening_stands: said(
    409,
    (of: { date: string; entry: string }) =>
      `Opening balances of ${of.date} stand already, as ${of.entry}: take them back first.`,
  ),
  no_opening: said(409, () => 'No opening balances stand.'),
  opening_locked: said(
    409,
    (of: { date: string }) => `${month(of.date)} is locked: unlock it, or say a day in an open month.`,
  ),
  bad_rate: said(422, (of: { fault: RateFault; rate: { date: string; from: string; to: string; rate: string } }) =>
    rateFaults[of.fault](of.rate),
  ),
  // Close
  month_open: said(
    422,
    (of: { month: string }) =>
      `Something is still open in ${of.month}; a month that is locked all the same needs a reason.`,
  ),
  earlier_open: said(
    409,
    (of: { month: string }) => `${of.month} is still open. Months are locked in order, the earliest first.`,
  ),
  later_locked: said(
    409,
    (of: { month: string }) => `${of.month} is locked. Months are opened again from the latest back.`,
  ),
  filed_already: said(
    409,
    (of: { from: string; to: string; agency: string }) => `${of.from} to ${of.to} is filed with ${of.agency} already.`,
  ),
  not_filed: said(409, () => 'This filing is withdrawn already, or was never made.'),
} as const

export type RefusalCode = keyof typeof refusals
export type FiguresOf<Code extends RefusalCode> = Parameters<(typeof refusals)[Code]['words']>[0]
