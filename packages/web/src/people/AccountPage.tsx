import { Box, Button, Flex, QrCode, Span } from '@chakra-ui/react'
import {
  type AccountPage as AccountFacts,
  changeAddressBody,
  changePasswordBody,
  passwordBody,
  secondFactorBody,
} from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { type ReactNode, useState } from 'react'
import { Link } from 'react-router'
import { TextField } from '../ui/form/fields.tsx'
import { useSchemaForm } from '../ui/form/useSchemaForm.ts'
import { momentText, zoneText } from '../ui/formats.ts'
import { Modal } from '../ui/Modal.tsx'
import { useNotice } from '../ui/Notice.tsx'
import { Page } from '../ui/Page.tsx'
import type { SheetColumn } from '../ui/sheet/column.ts'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'
import { agentText } from './agentText.ts'
import { accountQuery, useAccountActs, useSignInActs } from './peopleQueries.ts'
import { Refusal } from './SignInForm.tsx'
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
              <Password />
            </Part>
            <Part title="Address">
              <Address />
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

const Password = () => {
  const notice = useNotice()
  const { changePassword } = useAccountActs()
  const form = useSchemaForm(changePasswordBody, { current: '', password: '' })
  const change = form.handleSubmit(body =>
    changePassword.mutate(body, {
      onError: notice.refuse,
      onSuccess: () => {
        form.reset({ current: '', password: '' })
        notice.say('The password is changed. Everywhere else you are signed out.')
      },
    }),
  )
  return (
    <form
      noValidate
      onSubmit={event => {
        event.preventDefault()
        if (!changePassword.isPending) void change()
      }}
    >
      <Flex gap="12px" align="flex-start" wrap="wrap">
        <TextField
          control={form.control}
          name="current"
          label="Current"
          type="password"
          autoComplete="current-password"
          w="190px"
        />
        <TextField
          control={form.control}
          name="password"
          label="New"
          type="password"
          autoComplete="new-password"
          w="190px"
        />
        <Button type="submit" mt="24px" disabled={changePassword.isPending}>
          Change it
        </Button>
      </Flex>
    </form>
  )
}

const Address = () => {
  const notice = useNotice()
  const { changeAddress } = useAccountActs()
  const form = useSchemaForm(changeAddressBody, { password: '', email: '' })
  const change = form.handleSubmit(body =>
    changeAddress.mutate(body, {
      onError: notice.refuse,
      onSuccess: ({ mailed }) => {
        form.reset({ password: '', email: '' })
        notice.say(
          mailed
            ? 'A letter went to both addresses. It changes once both are confirmed, within a day.'
            : 'No letter could be sent, and the address stays: this Culvert sends no letters.',
        )
      },
    }),
  )
  return (
    <form
      noValidate
      onSubmit={event => {
        event.preventDefault()
        if (!changeAddress.isPending) void change()
      }}
    >
      <Flex gap="12px" align="flex-start" wrap="wrap">
        <TextField
          control={form.control}
          name="email"
          label="New address"
          type="email"
          autoComplete="email"
          w="220px"
        />
        <TextField
          control={form.control}
          name="password"
          label="Your password"
          type="password"
          autoComplete="current-password"
          w="190px"
        />
        <Button type="submit" mt="24px" disabled={changeAddress.isPending}>
          Change the address
        </Button>
      </Flex>
    </form>
  )
}

const SecondFactor = ({ on }: { readonly on: boolean }) => {
  const [asking, setAsking] = useState<'begin' | 'end' | null>(null)
  return (
    <>
      <Flex gap="14px" align="center" minH="34px">
        <Span color={on ? undefined : 'muted'}>
          {on ? '■ asked for at each sign-in' : 'none: the password alone lets you in'}
        </Span>
        <Button onClick={() => setAsking(on ? 'end' : 'begin')}>{on ? 'End it' : 'Set it up'}</Button>
      </Flex>
      {asking === 'begin' ? <BeginSecondFactor onClose={() => setAsking(null)} /> : null}
      {asking === 'end' ? <EndSecondFactor onClose={() => setAsking(null)} /> : null}
    </>
  )
}

const BeginSecondFactor = ({ onClose }: { readonly onClose: () => void }) => {
  const notice = useNotice()
  const { beginSecondFactor, confirmSecondFactor } = useAccountActs()
  const password = useSchemaForm(passwordBody, { password: '' })
  const code = useSchemaForm(secondFactorBody, { code: '' })
  const { data } = beginSecondFactor
  const begin = password.handleSubmit(body => beginSecondFactor.mutate(body))
  const confirm = code.handleSubmit(body =>
    confirmSecondFactor.mutate(body, {
      onSuccess: () => {
        notice.say('From now on a code is asked for when you sign in.')
        onClose()
      },
    }),
  )
  return (
    <Modal
      open
      title="Second factor"
      changed={data !== undefined}
      onClose={onClose}
      onSubmit={() => void (data ? confirm() : begin())}
      foot={
        <>
          <Button type="submit" variant="solid" disabled={beginSecondFactor.isPending || confirmSecondFactor.isPending}>
            {data ? 'Confirm' : 'Go on'}
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </>
      }
    >
      {data ? (
        <>
          <Flex gap="18px" align="flex-start">
            <QrCode.Root value={data.uri} css={{ bg: '#fff', p: '8px', flexShrink: '0' }}>
              {/* Read by a camera: dark on light in either theme. */}
              <QrCode.Frame style={{ width: '150px', height: '150px', fill: '#000' }}>
                <QrCode.Pattern />
              </QrCode.Frame>
            </QrCode.Root>
            <Box>
              Let your authenticator read the square, or type this into it:
              <Box textStyle="mono" my="6px" wordBreak="break-all">
                {data.secret}
              </Box>
              <TextField
                control={code.control}
                name="code"
                label="The code it shows"
                autoComplete="one-time-code"
                w="160px"
                autoFocus
              />
            </Box>
          </Flex>
          <Box mt="14px">
            Recovery codes, for when it is lost: each is good once. Keep them where your password is not. They are not
            shown again.
          </Box>
          <Box
            as="ul"
            aria-label="Recovery codes"
            listStyleType="none"
            m="6px 0 0"
            p="0"
            columnCount={2}
            textStyle="mono"
          >
            {data.recoveryCodes.map(one => (
              <li key={one}>{one}</li>
            ))}
          </Box>
          <Refusal of={confirmSecondFactor.error} />
        </>
      ) : (
        <>
          <TextField
            control={password.control}
            name="password"
            label="Your password"
            type="password"
            autoComplete="current-password"
            autoFocus
          />
          <Refusal of={beginSecondFactor.error} />
        </>
      )}
    </Modal>
  )
}

const EndSecondFactor = ({ onClose }: { readonly onClose: () => void }) => {
  const notice = useNotice()
  const { endSecondFactor } = useAccountActs()
  const form = useSchemaForm(passwordBody, { password: '' })
  const end = form.handleSubmit(body =>
    endSecondFactor.mutate(body, {
      onSuccess: () => {
        notice.say('No code is asked for any more.')
        onClose()
      },
    }),
  )
  return (
    <Modal
      open
      title="End the second factor"
      onClose={onClose}
      onSubmit={() => void end()}
      foot={
        <>
          <Button type="submit" variant="solid" disabled={endSecondFactor.isPending}>
            End it
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </>
      }
    >
      <TextField
        control={form.control}
        name="password"
        label="Your password"
        type="password"
        autoComplete="current-password"
        autoFocus
      />
      <Refusal of={endSecondFactor.error} />
    </Modal>
  )
}

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
