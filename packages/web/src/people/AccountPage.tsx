import { Box, Button, Flex } from '@chakra-ui/react'
import type { AccountPage as AccountFacts } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { Link } from 'react-router'
import { momentText, zoneText } from '../ui/formats.ts'
import { useNotice } from '../ui/Notice.tsx'
import { Page } from '../ui/Page.tsx'
import type { SheetColumn } from '../ui/sheet/column.ts'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'
import { AddressForm, PasswordForm } from './AccountForms.tsx'
import { agentText } from './agentText.ts'
import { accountQuery, useAccountActs, useSignInActs } from './peopleQueries.ts'
import { SecondFactor } from './SecondFactor.tsx'
import { Tokens } from './Tokens.tsx'

const zone = Intl.DateTimeFormat().resolvedOptions().timeZone
type Session = AccountFacts['sessions'][number]

/** One’s own account: password, second factor, where one is signed in, and tokens for programs. */
export const AccountPage = () => {
  const query = useQuery(accountQuery)
  const { data } = query
  const { signOut } = useSignInActs()
  return (
    <Page
      of={query}
      links={<Link to="/">Clients</Link>}
      title={data?.name ?? 'Account'}
      facts={data ? <span>{data.email}</span> : null}
      actions={
        <Button disabled={signOut.isPending} onClick={() => signOut.mutate()}>
          Sign out
        </Button>
      }
    >
      {data ? (
        <Flex direction="column" gap="26px" maxW="900px">
          <Flex gap="40px" wrap="wrap">
            <Part title="Password">
              <PasswordForm />
            </Part>
            <Part title="Address">
              <AddressForm />
            </Part>
            <Part title="Second factor">
              <SecondFactor on={data.secondFactor} />
            </Part>
          </Flex>
          <Part title="Where you are signed in">
            <Sessions sessions={data.sessions} />
          </Part>
          <Part title="Tokens for programs">
            <Tokens tokens={data.tokens} />
          </Part>
        </Flex>
      ) : null}
    </Page>
  )
}

const Part = ({ title, children }: { readonly title: string; readonly children: ReactNode }) => (
  <Box as="section" aria-label={title}>
    <Box as="h2" fontSize="15px" fontWeight="600" mb="8px">
      {title}
    </Box>
    {children}
  </Box>
)

const Sessions = ({ sessions }: { readonly sessions: readonly Session[] }) => {
  const notice = useNotice()
  const { endSession } = useAccountActs()
  const columns: readonly SheetColumn<Session>[] = [
    { id: 'agent', head: 'Browser', value: one => agentText(one.agent), cell: one => agentText(one.agent) },
    {
      id: 'created',
      head: `Since, ${zoneText(zone)}`,
      width: '190px',
      value: one => one.createdAt,
      cell: one => momentText(one.createdAt, zone),
    },
    {
      id: 'seen',
      head: 'Last seen',
      width: '190px',
      value: one => one.lastSeen,
      cell: one => (one.here ? 'here' : momentText(one.lastSeen, zone)),
    },
    {
      id: 'act',
      head: '',
      width: '90px',
      right: true,
      cell: one =>
        one.here ? null : (
          <Button
            variant="ghost"
            disabled={endSession.isPending}
            onClick={() =>
              endSession.mutate(one.id, {
                onError: notice.refuse,
                onSuccess: () => notice.say('That browser is signed out.'),
              })
            }
          >
            End
          </Button>
        ),
    },
  ]
  return (
    <SheetTable
      label="Sessions"
      scope="session-"
      whole
      filterable={false}
      columns={columns}
      rows={sessions}
      rowKey={one => one.id}
    />
  )
}
