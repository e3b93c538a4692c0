import { Box } from '@chakra-ui/react'
import type { TieOutPage } from '@culvert/contract'
import { useClient } from '../context/ClientContext.tsx'
import { amountText, countText } from '../ui/formats.ts'
import { useNotice } from '../ui/Notice.tsx'
import { Select } from '../ui/Select.tsx'
import type { SheetColumn } from '../ui/sheet/column.ts'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'
import { useSaveLabels } from './paymentQueries.ts'

type Label = TieOutPage['labels'][number]

const channelsText = ({ channels }: Label): string => channels.join(', ')

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
  const columns: readonly SheetColumn<Label>[] = [
    {
      id: 'label',
      head: 'Means of payment, as the shop calls it',
      mono: true,
      value: row => row.label,
      cell: row => row.label,
    },
    { id: 'channels', head: 'Reported by', value: channelsText, cell: channelsText },
    {
      id: 'source',
      head: 'Collected by',
      width: '240px',
      value: row => (row.source === null ? '' : nameOf(row.source)),
      cell: row => (
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
      ),
    },
    {
      id: 'without',
      head: 'Tendered with no source behind',
      width: '240px',
      right: true,
      value: row => row.without[0]?.amount ?? null,
      cell: row =>
        row.without
          .map(
            one => `${amountText(one.amount, one.currency, locale)} ${one.currency}, ${countText(one.count, 'line')}`,
          )
          .join(' · '),
    },
  ]
  return (
    <Box mt="22px">
      <SheetTable
        scope="label-"
        label="Means of payment"
        columns={columns}
        rows={page.labels}
        rowKey={row => row.label}
      />
    </Box>
  )
}
