import { Box, Span } from '@chakra-ui/react'
import type { PracticeActRow } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { countText, momentText, zoneText } from '../ui/formats.ts'
import { Instead } from '../ui/Instead.tsx'
import type { SheetColumn } from '../ui/sheet/column.ts'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'
import { practiceActsQuery } from './peopleQueries.ts'

const zone = Intl.DateTimeFormat().resolvedOptions().timeZone

const words: Readonly<Record<string, string>> = {
  sign_in: 'signed in',
  sign_in_held: 'too many tries that failed',
  sign_out: 'signed out',
  password_changed: 'changed the password',
  password_reset: 'set a new password by a link',
  address_changed: 'changed the address',
  second_factor_on: 'set up a second factor',
  second_factor_off: 'ended the second factor',
  end_factor: 'said a second factor is lost',
  keep_factor: 'kept a second factor',
  invite: 'invited',
  withdraw_invitation: 'withdrew an invitation',
  join: 'joined',
  set_person: 'changed what somebody may do',
  remove_person: 'let somebody go',
  add_token: 'made a token',
  withdraw_token: 'withdrew a token',
  end_session: 'ended a session',
  take_on: 'took a client on',
}

const factsText = (facts: PracticeActRow['before']): string =>
  Object.entries(facts ?? {})
    .map(([name, value]) => `${name} ${value}`)
    .join(', ')

const detailText = ({ before, after }: PracticeActRow): string =>
  [factsText(before), factsText(after)].filter(Boolean).join(' → ')

const columns: readonly SheetColumn<PracticeActRow>[] = [
  {
    id: 'at',
    head: `When, ${zoneText(zone)}`,
    width: '170px',
    value: one => one.at,
    cell: one => momentText(one.at, zone),
  },
  {
    id: 'by',
    head: 'Who',
    width: '150px',
    value: one => one.by,
    cell: one => one.by || <Span color="muted">nobody known</Span>,
  },
  {
    id: 'what',
    head: 'What',
    width: '260px',
    value: one => words[one.sort] ?? one.sort,
    cell: one => words[one.sort] ?? one.sort,
  },
  { id: 'note', head: 'Whom or what', width: '260px', value: one => one.note, cell: one => one.note },
  { id: 'detail', head: 'From what to what', wraps: true, value: detailText, cell: detailText },
  { id: 'seq', head: 'Seal', width: '60px', right: true, value: one => one.seq, cell: one => one.seq },
]

/** Who signed in, was invited, changed or let go. */
export const PracticeActs = () => {
  const query = useQuery(practiceActsQuery)
  const { data } = query
  return (
    <Box as="section" aria-label="Who did what">
      <Box as="h2" fontSize="15px" fontWeight="600" mb="6px">
        Who did what{' '}
        <Span color={data && data.check.faults.length > 0 ? 'crimson' : 'muted'} fontWeight="400">
          {data
            ? data.check.faults.length > 0
              ? `▲ the chain is broken at ${data.check.faults.map(one => one.seq).join(', ')}`
              : `${countText(data.count, 'act')}, every seal is right`
            : ''}
        </Span>
      </Box>
      {data ? (
        <SheetTable
          label="Who did what"
          scope="acts-"
          columns={columns}
          rows={data.acts}
          rowKey={one => String(one.seq)}
        />
      ) : (
        <Instead of={query} />
      )}
    </Box>
  )
}
