import { Span, Table } from '@chakra-ui/react'
import { listEndpoints, type TaxList } from '@culvert/contract'
import { useClient } from '../context/ClientContext.tsx'
import { call } from '../context/request.ts'
import { ListButton } from '../files/ListButton.tsx'
import { countText, dateText } from '../ui/formats.ts'
import { useNotice } from '../ui/Notice.tsx'
import { useMappingActs } from './mappingQueries.ts'

const unfitText: Record<NonNullable<TaxList['codes'][number]['unfit']>, string> = {
  account: 'its account is none of tax',
  use: 'of sales or purchases? its word is not known',
  parts: 'it has several parts: change it by hand',
  no_day: 'another rate, and no day from which it holds',
}

/** Brings in a list of tax codes with their rates by date: what is new and what changes is seen before it is taken. */
export const TaxCodeListButton = ({ version }: { readonly version: number }) => {
  const { clientId } = useClient()
  const notice = useNotice()
  const { saveTaxCodes: save } = useMappingActs(clientId)
  return (
    <ListButton<TaxList>
      label="Bring in a list"
      ledger="tax-codes"
      read={(file, query) => call(listEndpoints.readTaxes, { client: clientId, file, query })}
      shown={(list, close) => {
        const moved = list.codes.filter(one => one.state !== 'same')
        const fit = moved.filter(one => one.unfit === null)
        return {
          title:
            moved.length > 0
              ? `The list has ${countText(moved.length, 'tax code')} new or changed`
              : 'The list changes nothing',
          act: fit.length > 0 ? `Take ${countText(fit.length, 'tax code')}` : null,
          busy: save.isPending,
          onTake: () =>
            save.mutate(
              { codes: fit.map(one => one.code), version },
              {
                onError: notice.refuse,
                onSuccess: () => {
                  notice.say(`${countText(fit.length, 'tax code')} taken. What is posted stays as it is.`)
                  close()
                },
              },
            ),
          note: (
            <Span color={fit.length < moved.length ? 'ochre' : 'muted'} textStyle="small">
              {fit.length < moved.length ? `◆ ${countText(moved.length - fit.length, 'code')} cannot be taken. ` : ''}
              {list.vanished.length > 0
                ? `${countText(list.vanished.length, 'code not in the list stays', 'codes not in the list stay')}.`
                : ''}
            </Span>
          ),
          body: (
            <Table.Root aria-label="Tax codes of the list">
              <Table.Header>
                <Table.Row>
                  <Table.ColumnHeader>Code</Table.ColumnHeader>
                  <Table.ColumnHeader>Name</Table.ColumnHeader>
                  <Table.ColumnHeader>Country</Table.ColumnHeader>
                  <Table.ColumnHeader>Use</Table.ColumnHeader>
                  <Table.ColumnHeader>Rates that it adds</Table.ColumnHeader>
                  <Table.ColumnHeader>Account</Table.ColumnHeader>
                  <Table.ColumnHeader>State</Table.ColumnHeader>
                </Table.Row>
              </Table.Header>
              <Table.Body>
                {moved.slice(0, 300).map(({ code, state, rates, unfit }) => (
                  <Table.Row key={code.code}>
                    <Table.Cell textStyle="mono">{code.code}</Table.Cell>
                    <Table.Cell>{code.name}</Table.Cell>
                    <Table.Cell>{code.country}</Table.Cell>
                    <Table.Cell>
                      {code.use}, {code.basis === 'exclusive' ? 'beside the price' : 'within the price'}
                    </Table.Cell>
                    <Table.Cell>
                      {rates.map(rate => `${rate.percent} % from ${dateText(rate.from)}`).join(', ') || '–'}
                    </Table.Cell>
                    <Table.Cell textStyle="mono">{code.components[0]?.account}</Table.Cell>
                    <Table.Cell color={unfit ? 'ochre' : 'muted'}>{unfit ? `◆ ${unfitText[unfit]}` : state}</Table.Cell>
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
