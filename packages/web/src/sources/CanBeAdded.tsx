import { Button, Flex, Span, Table } from '@chakra-ui/react'
import type { ConnectableSort, ServiceRow, ServiceSort } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { useMay } from '../context/useMay.ts'
import { useNotice } from '../ui/Notice.tsx'
import { PageLink } from '../ui/PageLink.tsx'
import { AskOwner } from './AskOwner.tsx'
import { servicesQuery, useGrantActs } from './grantQueries.ts'
import { serviceText } from './serviceText.ts'

const byFile: readonly (readonly [sort: ConnectableSort, files: string, page?: string])[] = [
  ['web_shop', 'orders'],
  ['marketplace', 'activity, settlements'],
  ['till', 'sales, tenders'],
  ['card_processor', 'activity, balances'],
  ['wallet', 'activity'],
  ['pay_later', 'activity'],
  ['cash', 'activity'],
  ['gift_cards', 'activity'],
  ['bank', 'statements', '/bank/accounts'],
  ['ledger', 'lists', '/books'],
]

/** What can be added, by sort: by consent where a service can be connected, and always by file. */
export const CanBeAdded = ({ onByFile }: { readonly onByFile: (service: ServiceSort) => void }) => {
  const { clientId } = useClient()
  const { data } = useQuery(servicesQuery(clientId))
  const may = useMay()
  const href = useHref()
  const [asking, setAsking] = useState<ServiceRow | null>(null)
  if (!may('connect')) return null
  const half = Math.ceil(byFile.length / 2)
  return (
    <>
      {asking ? <AskOwner service={asking} forSource={null} onClose={() => setAsking(null)} /> : null}
      <Flex mt="18px" gap="0" align="stretch" direction={{ base: 'column', xl: 'row' }}>
        {[byFile.slice(0, half), byFile.slice(half)].map((part, index) => (
          <Table.Root
            key={part[0]?.[0]}
            flex="1"
            bg="sheet"
            aria-label={index === 0 ? 'Can be added' : 'Can be added, on'}
          >
            <Table.Header>
              <Table.Row>
                <Table.ColumnHeader w="120px">Can be added</Table.ColumnHeader>
                <Table.ColumnHeader>By consent</Table.ColumnHeader>
                <Table.ColumnHeader>By file: CSV, XLSX</Table.ColumnHeader>
              </Table.Row>
            </Table.Header>
            <Table.Body>
              {part.map(([sort, files, page]) => {
                const services = data?.services.filter(one => one.sort === sort) ?? []
                return (
                  <Table.Row key={sort}>
                    <Table.Cell color="muted">{serviceText[sort]}</Table.Cell>
                    <Table.Cell>
                      {services.map(service => (
                        <Consent key={service.key} service={service} onAsk={() => setAsking(service)} />
                      ))}
                      {services.length === 0 ? <Span color="muted">–</Span> : null}
                    </Table.Cell>
                    <Table.Cell>
                      <Flex justify="space-between" align="center" gap="8px">
                        <Span color="muted" textStyle="small">
                          {files}
                        </Span>
                        {page === undefined ? (
                          <Button
                            variant="plain"
                            aria-label={`Add a ${serviceText[sort]} by file`}
                            onClick={() => onByFile(sort as ServiceSort)}
                          >
                            Add
                          </Button>
                        ) : (
                          <PageLink to={href(page)}>Bring in</PageLink>
                        )}
                      </Flex>
                    </Table.Cell>
                  </Table.Row>
                )
              })}
            </Table.Body>
          </Table.Root>
        ))}
      </Flex>
    </>
  )
}

const Consent = ({ service, onAsk }: { readonly service: ServiceRow; readonly onAsk: () => void }) => {
  const { clientId } = useClient()
  const notice = useNotice()
  const { ask } = useGrantActs(clientId)
  return (
    <Flex gap="12px" align="center">
      <Span fontWeight="600" title={service.reports}>
        {service.name}
      </Span>
      <Button
        variant="plain"
        aria-label={`Connect ${service.name}`}
        disabled={ask.isPending}
        onClick={() =>
          ask.mutate(
            { service: service.key },
            { onError: notice.refuse, onSuccess: ({ address }) => window.location.assign(address) },
          )
        }
      >
        Connect
      </Button>
      <Button variant="plain" aria-label={`Ask the owner for ${service.name}`} onClick={onAsk}>
        Ask the owner
      </Button>
    </Flex>
  )
}
