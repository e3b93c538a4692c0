import { Box, Table } from '@chakra-ui/react'
import type { TieOutPage } from '@culvert/contract'
import { useClient } from '../context/ClientContext.tsx'
import { amountText, countText } from '../ui/formats.ts'
import { useNotice } from '../ui/Notice.tsx'
import { Select } from '../ui/Select.tsx'
import { useSaveLabels } from './paymentQueries.ts'

/** Which source each means of payment is, as the shops call it. */
export const Labels = ({ page }: { readonly page: TieOutPage }) => {
  const { clientId, locale } = useClient()
  const notice = useNotice()
  const save = useSaveLabels(clientId)
  const nameOf = (source: string) => page.gateways.find(one => one.source === source)?.name ?? source
  const choose = (label: string, source: string) => {
    const rest = page.labels.flatMap(one =>
      one.label !== label && one.source !== null && one.source !== one.label
        ? [{ label: one.label, source: one.source }]
        : [],
    )
    const labels = source === '' ? rest : [...rest, { label, source }]
    save.mutate(
      { labels, version: page.version },
      {
        onError: notice.refuse,
        onSuccess: () =>
          notice.say(
            source === ''
              ? `“${label}” is no source’s from now on.`
              : `“${label}” is collected by ${nameOf(source)} from now on.`,
          ),
      },
    )
  }
  return (
    <Box mt="22px">
      <Table.Root aria-label="Means of payment">
        <Table.Header>
          <Table.Row>
            <Table.ColumnHeader>Means of payment, as the shop calls it</Table.ColumnHeader>
            <Table.ColumnHeader>Reported by</Table.ColumnHeader>
            <Table.ColumnHeader style={{ width: 240 }}>Collected by</Table.ColumnHeader>
            <Table.ColumnHeader textAlign="end" style={{ width: 240 }}>
              Tendered with no source behind
            </Table.ColumnHeader>
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {page.labels.map(row => (
            <Table.Row key={row.label}>
              <Table.Cell textStyle="mono">{row.label}</Table.Cell>
              <Table.Cell>{row.channels.join(', ')}</Table.Cell>
              <Table.Cell>
                <Select
                  aria-label={`Who collects ${row.label}`}
                  h="28px"
                  disabled={save.isPending}
                  value={row.source ?? ''}
                  onChange={event => choose(row.label, event.target.value)}
                >
                  <option value="">no source</option>
                  {page.gateways.map(gateway => (
                    <option key={gateway.source} value={gateway.source}>
                      {gateway.name}
                    </option>
                  ))}
                </Select>
              </Table.Cell>
              <Table.Cell textAlign="end">
                {row.without
                  .map(
                    one =>
                      `${amountText(one.amount, one.currency, locale)} ${one.currency}, ${countText(one.count, 'line')}`,
                  )
                  .join(' · ')}
              </Table.Cell>
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
    </Box>
  )
}
