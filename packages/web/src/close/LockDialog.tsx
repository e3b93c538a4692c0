import { Box, Button, chakra, Input, Span } from '@chakra-ui/react'
import { closeEndpoints as at, type CloseMonth, type MonthState } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { call } from '../context/request.ts'
import { countText, monthText } from '../ui/formats.ts'
import { Modal } from '../ui/Modal.tsx'
import { useNotice } from '../ui/Notice.tsx'
import { PageLink } from '../ui/PageLink.tsx'
import { useWayBack } from '../ui/useWayBack.ts'
import { monthQuery, useLock } from './closeQueries.ts'

/** Asks before a month is locked: what is still open in it, and why it is locked all the same. */
export const LockDialog = ({ row, onClose }: { readonly row: CloseMonth; readonly onClose: () => void }) => {
  const { clientId } = useClient()
  const notice = useNotice()
  const { data, error } = useQuery(monthQuery(clientId, row.month))
  const lock = useLock(clientId)
  const wayBack = useWayBack(clientId)
  const [reason, setReason] = useState('')
  const name = monthText(row.month)
  const inOrder = data?.before === null
  const needsReason = !row.locked && data?.open === true && reason.trim() === ''
  const kept = !data
    ? 'Looking at the month.'
    : !inOrder
      ? 'Another month comes first.'
      : needsReason
        ? 'Say why, as something is open.'
        : null
  const set = (): void =>
    lock.mutate(
      { month: row.month, locked: !row.locked, reason },
      {
        onError: notice.refuse,
        onSuccess: () => {
          onClose()
          if (row.locked) notice.say(`${name} is open again.`)
          else
            notice.say(
              `${name} is locked; nothing is posted into it.`,
              wayBack('Open it again', async () => {
                await call(at.setLocked, { client: clientId, body: { month: row.month, locked: false, reason: '' } })
                return `${name} is open again.`
              }),
            )
        },
      },
    )
  return (
    <Modal
      open
      title={row.locked ? `Open ${name} again` : `Lock ${name}`}
      onClose={onClose}
      onSubmit={() => (kept === null ? set() : undefined)}
      changed={reason !== ''}
      foot={
        <>
          <Span flex="1" color="muted" textStyle="small">
            {kept}
          </Span>
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="solid" disabled={kept !== null || lock.isPending}>
            {row.locked ? 'Open again' : 'Lock the month'}
          </Button>
        </>
      }
    >
      {error ? <Span color="crimson">{error.message}</Span> : null}
      {!data && !error ? <Span color="muted">Looking at what is open in {name} …</Span> : null}
      {data && data.before !== null ? (
        <chakra.p color="ochre">
          ◆ {monthText(data.before)} is {row.locked ? 'locked' : 'still open'}.{' '}
          {row.locked
            ? 'Months are opened again from the latest back.'
            : 'Months are locked in order, the earliest first.'}
        </chakra.p>
      ) : null}
      {data && !row.locked ? <WhatIsOpen state={data} /> : null}
      {data && row.locked ? (
        <p>
          Entries can be posted into it again.
          {data.reason ? ` It was locked with the words “${data.reason}”.` : ''}
        </p>
      ) : null}
      {data?.open && !row.locked ? (
        <Box as="label" display="block" mt="10px">
          Why it is locked all the same
          <Input display="block" w="100%" mt="2px" value={reason} onChange={event => setReason(event.target.value)} />
        </Box>
      ) : null}
    </Modal>
  )
}

const WhatIsOpen = ({ state }: { readonly state: MonthState }) => {
  const href = useHref()
  const { month } = state
  const items: [number, string, string][] = [
    [state.blocked, `${countText(state.blocked, 'settlement')} blocked`, `/settlements?state=blocked&period=${month}`],
    [
      state.proposed,
      `${countText(state.proposed, 'settlement')} to post`,
      `/settlements?state=proposed&period=${month}`,
    ],
    [
      state.corrections,
      `${countText(state.corrections, 'correction')} not booked`,
      `/settlements?state=corrected&period=${month}`,
    ],
    [state.unpairedPayouts, `${countText(state.unpairedPayouts, 'payout')} not in the bank`, `/bank?period=${month}`],
    [state.openBankLines, `${countText(state.openBankLines, 'bank line')} not decided`, `/bank?period=${month}`],
    ...state.unproved.map((one): [number, string, string] => [
      1,
      `${one.account} ${one.name}: ${one.outcome === null ? 'no balance to prove it by' : one.outcome === 'explained' ? 'explained, but something is to be mended' : 'not proved'}`,
      `/clearing/${encodeURIComponent(one.account)}?period=${month}`,
    ]),
    ...state.taxOff.map((code): [number, string, string] => [
      1,
      `tax of ${code} is not what its base calls for`,
      `/mapping/tax/check?month=${month}`,
    ]),
  ]
  const open = items.filter(([count]) => count > 0)
  if (open.length === 0) return <p>Nothing is open in it. Once it is locked, nothing is posted into it.</p>
  return (
    <>
      <p>
        Still open in it; once it is locked, nothing is posted into it, and what is taken back goes to the first open
        day after it:
      </p>
      <ul style={{ margin: '6px 0 0 18px' }}>
        {open.map(([, text, to]) => (
          <li key={text}>
            <PageLink color="ochre" to={href(to)}>
              {text}
            </PageLink>
          </li>
        ))}
      </ul>
    </>
  )
}
