import { Box, Button, Span, Table } from '@chakra-ui/react'
import type { AsideRow } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useClient } from '../context/ClientContext.tsx'
import { useMay } from '../context/useMay.ts'
import { countText, dateText } from '../ui/formats.ts'
import { useNotice } from '../ui/Notice.tsx'
import { asideQuery, useSayOfAside } from './sourceQueries.ts'

/** Rows of a source's files that could not be read: what stands in each, and whether it moves nothing or is still to come in. */
export const RowsAside = ({ source }: { readonly source: string }) => {
  const { clientId } = useClient()
  const notice = useNotice()
  const may = useMay()
  const { data } = useQuery(asideQuery(clientId, source))
  const say = useSayOfAside(clientId, source)
  const rows = data?.rows ?? []
  if (rows.length === 0) return null
  const unread = rows.filter(row => row.why === 'unread').length
  return (
    <Box as="section" aria-label="Rows set aside" mb="14px">
      <Box as="h2" fontWeight="600" mb="6px" color={unread > 0 ? 'ochre' : undefined}>
        {unread > 0
          ? `◆ ${countText(unread, 'row')} of its files still to be brought in`
          : 'Rows of its files set aside'}
      </Box>
      <Box bg="sheet" borderWidth="1px" borderColor="hairline" overflowX="auto">
        <Table.Root aria-label="Rows set aside">
          <Table.Header>
            <Table.Row>
              <Table.ColumnHeader>File</Table.ColumnHeader>
              <Table.ColumnHeader>Row</Table.ColumnHeader>
              <Table.ColumnHeader>Day</Table.ColumnHeader>
              <Table.ColumnHeader>What stands in it</Table.ColumnHeader>
              <Table.ColumnHeader>It is</Table.ColumnHeader>
              <Table.ColumnHeader />
            </Table.Row>
          </Table.Header>
          <Table.Body>
            {rows.map(row => (
              <Table.Row key={`${row.jobId} ${row.row}`}>
                <Table.Cell maxW="220px" truncate>
                  {row.file}
                </Table.Cell>
                <Table.Cell>{row.row}</Table.Cell>
                <Table.Cell>{row.day ? dateText(row.day) : ''}</Table.Cell>
                <Table.Cell maxW="420px" truncate textStyle="mono" title={textOf(row)}>
                  {textOf(row)}
                </Table.Cell>
                <Table.Cell color={row.why === 'unread' ? 'ochre' : 'muted'}>
                  {row.why === 'unread' ? 'to be brought in' : 'nothing'}
                </Table.Cell>
                <Table.Cell>
                  {may('bring') ? (
                    <Button
                      variant="plain"
                      disabled={say.isPending}
                      onClick={() =>
                        say.mutate(
                          { jobId: row.jobId, row: row.row, why: row.why === 'unread' ? 'nothing' : 'unread' },
                          { onError: notice.refuse },
                        )
                      }
                    >
                      {row.why === 'unread' ? 'It moves nothing' : 'It is a movement'}
                    </Button>
                  ) : null}
                </Table.Cell>
              </Table.Row>
            ))}
          </Table.Body>
        </Table.Root>
      </Box>
      {unread > 0 ? (
        <Span color="muted" textStyle="small">
          The proof of its account is not closed while one is. Brought in with a mended file, it can be said to move
          nothing here.
        </Span>
      ) : null}
    </Box>
  )
}

const textOf = ({ fields }: AsideRow): string =>
  Object.entries(fields)
    .map(([name, text]) => `${name} ${text}`)
    .join(' · ')
