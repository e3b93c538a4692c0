import { Box, Button, Flex, Span, Table } from '@chakra-ui/react'
import type { ChartFile, NewAccount } from '@culvert/contract'
import { type AccountType, accountTypes } from '@culvert/core'
import { useState } from 'react'
import { useClient } from '../context/ClientContext.tsx'
import { countText } from '../ui/formats.ts'
import { Modal } from '../ui/Modal.tsx'
import { useNotice } from '../ui/Notice.tsx'
import { Select } from '../ui/Select.tsx'
import { accountTypeText } from '../ui/words.ts'
import { useChartActs } from './chartQueries.ts'

type Row = ChartFile['rows'][number]

const stateWords: Record<Row['state'], string> = { new: 'new', changed: 'changed', same: 'as it is' }

/** A list of accounts that was read: what is new and what changes is seen before it is taken. */
export const ChartList = ({ file, onClose }: { readonly file: ChartFile; readonly onClose: () => void }) => {
  const { clientId } = useClient()
  const notice = useNotice()
  const { take } = useChartActs(clientId)
  const [types, setTypes] = useState<ReadonlyMap<string, AccountType>>(new Map())
  const typeOf = (row: Row): AccountType | null =>
    types.get(row.code) ?? row.type ?? (row.was?.type as AccountType | undefined) ?? null
  const moved = file.rows.filter(row => row.state !== 'same')
  const added = moved.filter(row => row.state === 'new').length
  const open = moved.filter(row => typeOf(row) === null).length
  const said = [
    added > 0 ? `${countText(added, 'new account')}` : '',
    moved.length > added ? `${moved.length - added} changed` : '',
  ].filter(Boolean)
  const accounts = moved.flatMap((row): NewAccount[] => {
    const type = typeOf(row)
    const { code, name, currency, description, bankNumber } = row
    return type === null ? [] : [{ code, name, type, currency, description, bankNumber }]
  })
  const takeThem = () =>
    take.mutate(accounts, {
      onError: notice.refuse,
      onSuccess: ({ added: made, changed, same }) => {
        notice.say(
          `${countText(made, 'account')} added, ${changed} changed${same > 0 ? `, ${same} as they were` : ''}.`,
        )
        onClose()
      },
    })
  return (
    <Modal
      open
      wide
      title={said.length > 0 ? `The list has ${said.join(' and ')}` : 'The list changes nothing'}
      onClose={onClose}
      onSubmit={takeThem}
      changed={types.size > 0}
      foot={
        <>
          <Button type="submit" variant="solid" disabled={accounts.length === 0 || open > 0 || take.isPending}>
            {accounts.length > 0 ? `Take ${said.join(', ')}` : 'Nothing to take'}
          </Button>
          <Button onClick={onClose}>Cancel</Button>
          <Span color={open > 0 ? 'ochre' : 'muted'} textStyle="small">
            {open > 0
              ? `◆ ${countText(open, 'account has', 'accounts have')} no type that is known: say it in the row`
              : file.vanished.length > 0
                ? `${countText(file.vanished.length, 'account')} of the chart ${file.vanished.length === 1 ? 'is' : 'are'} not in the list, and stay`
                : ''}
          </Span>
        </>
      }
    >
      <Box maxH="420px" overflowY="auto">
        <Table.Root aria-label="Accounts of the list">
          <Table.Header>
            <Table.Row>
              <Table.ColumnHeader>Number</Table.ColumnHeader>
              <Table.ColumnHeader>Name</Table.ColumnHeader>
              <Table.ColumnHeader>Type</Table.ColumnHeader>
              <Table.ColumnHeader>Currency</Table.ColumnHeader>
              <Table.ColumnHeader>State</Table.ColumnHeader>
            </Table.Row>
          </Table.Header>
          <Table.Body>
            {moved.map(row => (
              <Table.Row key={row.code}>
                <Table.Cell textStyle="mono">{row.code}</Table.Cell>
                <Table.Cell>
                  {row.name}
                  {row.was && row.was.name !== row.name ? <Span color="muted"> · was {row.was.name}</Span> : null}
                </Table.Cell>
                <Table.Cell>
                  <TypeOf row={row} type={typeOf(row)} onType={type => setTypes(new Map(types).set(row.code, type))} />
                </Table.Cell>
                <Table.Cell>{row.currency}</Table.Cell>
                <Table.Cell color="muted">{stateWords[row.state]}</Table.Cell>
              </Table.Row>
            ))}
          </Table.Body>
        </Table.Root>
      </Box>
    </Modal>
  )
}

const TypeOf = ({
  row,
  type,
  onType,
}: {
  readonly row: Row
  readonly type: AccountType | null
  readonly onType: (type: AccountType) => void
}) =>
  row.type !== null || row.state !== 'new' ? (
    type === null ? (
      ''
    ) : (
      accountTypeText(type)
    )
  ) : (
    <Flex gap="8px" align="center">
      <Select
        aria-label={`Type of ${row.code}`}
        w="170px"
        value={type ?? ''}
        onChange={event => onType(event.target.value as AccountType)}
      >
        <option value="">say it …</option>
        {accountTypes.map(one => (
          <option key={one} value={one}>
            {accountTypeText(one)}
          </option>
        ))}
      </Select>
      {row.typeWord === '' ? null : <Span color="muted">{row.typeWord}</Span>}
    </Flex>
  )
