import { Box, Button, Flex, Span } from '@chakra-ui/react'
import type { PeoplePage as PeopleFacts, PersonRow } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { sessionQuery } from '../context/sessionQuery.ts'
import { AskDialog } from '../ui/AskDialog.tsx'
import { countText, momentText, zoneText } from '../ui/formats.ts'
import { useNotice } from '../ui/Notice.tsx'
import { Page } from '../ui/Page.tsx'
import type { SheetColumn } from '../ui/sheet/column.ts'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'
import { InviteDialog, PersonDialog } from './PersonDialogs.tsx'
import { PracticeActs } from './PracticeActs.tsx'
import { peopleQuery, usePeopleActs } from './peopleQueries.ts'
import { roleWords } from './roleWords.ts'

const zone = Intl.DateTimeFormat().resolvedOptions().timeZone

/** Who is of the practice, what they may do of each client, and who is invited. */
export const PeoplePage = () => {
  const query = useQuery(peopleQuery)
  const { data } = query
  const { data: session } = useQuery(sessionQuery)
  const [changing, setChanging] = useState<PersonRow | null>(null)
  const [leaving, setLeaving] = useState<PersonRow | null>(null)
  const [inviting, setInviting] = useState(false)
  const notice = useNotice()
  const { remove } = usePeopleActs()
  const here = data?.people.filter(one => one.endedAt === null) ?? []
  return (
    <Page
      of={query}
      links={<Link to="/">Clients</Link>}
      title={`People of ${data?.practice ?? 'the practice'}`}
      facts={data ? <span>{countText(here.length, 'person', 'people')}</span> : null}
      actions={<Button onClick={() => setInviting(true)}>Invite somebody</Button>}
    >
      {data ? (
        <Flex direction="column" gap="22px">
          <SheetTable
            label="People"
            whole
            filterable={false}
            columns={personColumns({
              page: data,
              own: session?.user.email ?? '',
              onChange: setChanging,
              onRemove: setLeaving,
            })}
            rows={data.people}
            rowKey={one => String(one.id)}
          />
          {data.invitations.length > 0 ? <Invitations page={data} /> : null}
          <PracticeActs />
          {inviting ? <InviteDialog page={data} onClose={() => setInviting(false)} /> : null}
          {changing ? <PersonDialog page={data} person={changing} onClose={() => setChanging(null)} /> : null}
          <AskDialog
            open={leaving !== null}
            title={`Let ${leaving?.name} go?`}
            act="Let go"
            onClose={() => setLeaving(null)}
            onAct={() =>
              leaving &&
              remove.mutate(leaving.id, {
                onError: notice.refuse,
                onSuccess: () => notice.say(`${leaving.name} is of the practice no more, and signed out everywhere.`),
              })
            }
          >
            {leaving?.name} is signed out everywhere and reaches no client any more; their tokens and open invitations
            end. What they did keeps their name. They can be invited anew.
          </AskDialog>
        </Flex>
      ) : null}
    </Page>
  )
}

const clientsText = ({ clients }: PersonRow, names: ReadonlyMap<number, string>, role: PersonRow['role']): string =>
  role === 'owner'
    ? 'all'
    : clients
        .map(one => `${names.get(one.clientId) ?? one.clientId}${one.role === role ? '' : ` (${roleWords[one.role]})`}`)
        .join(', ') || 'none'

const personColumns = ({
  page,
  own,
  onChange,
  onRemove,
}: {
  readonly page: PeopleFacts
  readonly own: string
  readonly onChange: (person: PersonRow) => void
  readonly onRemove: (person: PersonRow) => void
}): readonly SheetColumn<PersonRow>[] => {
  const names = new Map(page.clients.map(one => [one.clientId, one.name]))
  const seenText = (one: PersonRow): string =>
    one.endedAt ? `left ${momentText(one.endedAt, zone)}` : one.lastSeen ? momentText(one.lastSeen, zone) : 'never'
  return [
    {
      id: 'name',
      head: 'Name',
      width: '150px',
      value: one => one.name,
      cell: one => <Span color={one.endedAt ? 'muted' : undefined}>{one.name}</Span>,
    },
    { id: 'email', head: 'Address', width: '260px', value: one => one.email, cell: one => one.email },
    {
      id: 'role',
      head: 'Is',
      width: '110px',
      value: one => (one.endedAt ? '' : roleWords[one.role]),
      cell: one => (one.endedAt ? '' : roleWords[one.role]),
    },
    {
      id: 'clients',
      head: 'Of clients',
      wraps: true,
      value: one => (one.endedAt ? '' : clientsText(one, names, one.role)),
      cell: one => (one.endedAt ? '' : clientsText(one, names, one.role)),
    },
    {
      id: 'second',
      head: 'Second factor',
      width: '110px',
      value: one => (one.secondFactor ? 'yes' : 'no'),
      cell: one => (one.endedAt ? '' : one.secondFactor ? 'yes' : <Span color="muted">no</Span>),
    },
    { id: 'seen', head: `Seen, ${zoneText(zone)}`, width: '180px', value: seenText, cell: seenText },
    {
      id: 'act',
      head: '',
      width: '140px',
      right: true,
      cell: one =>
        one.endedAt !== null || one.email === own ? null : (
          <Flex gap="12px" justify="flex-end">
            <Button variant="ghost" aria-label={`Change ${one.name}`} onClick={() => onChange(one)}>
              Change
            </Button>
            <Button variant="ghost" aria-label={`Let ${one.name} go`} onClick={() => onRemove(one)}>
              Let go
            </Button>
          </Flex>
        ),
    },
  ]
}

type Invitation = PeopleFacts['invitations'][number]

const Invitations = ({ page }: { readonly page: PeopleFacts }) => {
  const notice = useNotice()
  const { withdraw } = usePeopleActs()
  const columns: readonly SheetColumn<Invitation>[] = [
    { id: 'email', head: 'Address', value: one => one.email, cell: one => one.email },
    { id: 'role', head: 'To be', width: '110px', value: one => one.role, cell: one => roleWords[one.role] },
    { id: 'by', head: 'By', width: '150px', value: one => one.invitedBy, cell: one => one.invitedBy },
    {
      id: 'until',
      head: `Good until, ${zoneText(zone)}`,
      width: '200px',
      value: one => one.expiresAt,
      cell: one => momentText(one.expiresAt, zone),
    },
    {
      id: 'act',
      head: '',
      width: '100px',
      right: true,
      cell: one => (
        <Button
          variant="ghost"
          aria-label={`Withdraw the invitation of ${one.email}`}
          onClick={() =>
            withdraw.mutate(one.id, {
              onError: notice.refuse,
              onSuccess: () => notice.say(`The link sent to ${one.email} is good no more.`),
            })
          }
        >
          Withdraw
        </Button>
      ),
    },
  ]
  return (
    <Box as="section" aria-label="Invited">
      <Box as="h2" fontSize="15px" fontWeight="600" mb="6px">
        Invited
      </Box>
      <SheetTable
        label="Invitations"
        scope="invited-"
        whole
        filterable={false}
        columns={columns}
        rows={page.invitations}
        rowKey={one => String(one.id)}
      />
    </Box>
  )
}
