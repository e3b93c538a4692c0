import { Span, Table } from '@chakra-ui/react'
import { type BalanceList, listEndpoints } from '@culvert/contract'
import { useClient } from '../context/ClientContext.tsx'
import { call } from '../context/request.ts'
import { ListButton } from '../files/ListButton.tsx'
import { Amount } from '../ui/Amount.tsx'
import { countText } from '../ui/formats.ts'

const unfitText = {
  unknown_account: 'no such account',
  not_entered: 'archived, or held in another currency',
} as const

type Balance = BalanceList['balances'][number]

/** Brings in a list of balances and fills them into the form; nothing is posted by it. */
export const OpeningListButton = ({ onTake }: { readonly onTake: (balances: readonly Balance[]) => void }) => {
  const { clientId } = useClient()
  return (
    <ListButton<BalanceList>
      label="Bring in a list"
      ledger="opening"
      read={(file, query) => call(listEndpoints.readBalances, { client: clientId, file, query })}
      shown={({ balances }, close) => {
        const unfit = balances.filter(one => one.unfit !== null).length
        const sum = balances.reduce((total, one) => total + one.amount, 0)
        return {
          title: `The list has ${countText(balances.length, 'balance')}`,
          act: balances.length > 0 && unfit === 0 ? `Fill in ${countText(balances.length, 'balance')}` : null,
          busy: false,
          onTake: () => {
            onTake(balances)
            close()
          },
          note: (
            <Span color={unfit > 0 || sum !== 0 ? 'ochre' : 'muted'} textStyle="small">
              {unfit > 0 ? (
                `◆ ${countText(unfit, 'account')} cannot be entered: make them in the chart first`
              ) : sum === 0 ? (
                'Debits and credits are the same. Nothing is posted yet.'
              ) : (
                <>
                  ◆ {sum > 0 ? 'Debits' : 'Credits'} are higher by <Amount minor={Math.abs(sum)} />
                </>
              )}
            </Span>
          ),
          body: (
            <Table.Root aria-label="Balances of the list">
              <Table.Header>
                <Table.Row>
                  <Table.ColumnHeader>Account</Table.ColumnHeader>
                  <Table.ColumnHeader textAlign="right">Debit</Table.ColumnHeader>
                  <Table.ColumnHeader textAlign="right">Credit</Table.ColumnHeader>
                  <Table.ColumnHeader>State</Table.ColumnHeader>
                </Table.Row>
              </Table.Header>
              <Table.Body>
                {balances.map(one => (
                  <Table.Row key={one.row}>
                    <Table.Cell textStyle="mono">{one.account}</Table.Cell>
                    <Table.Cell textAlign="right">{one.amount > 0 ? <Amount minor={one.amount} /> : ''}</Table.Cell>
                    <Table.Cell textAlign="right">{one.amount < 0 ? <Amount minor={-one.amount} /> : ''}</Table.Cell>
                    <Table.Cell color={one.unfit ? 'ochre' : 'muted'}>
                      {one.unfit ? `◆ ${unfitText[one.unfit]}` : ''}
                    </Table.Cell>
                  </Table.Row>
                ))}
              </Table.Body>
            </Table.Root>
          ),
        }
      }}
    />
  )
}
