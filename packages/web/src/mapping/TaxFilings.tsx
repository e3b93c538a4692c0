import { Button, chakra, Span, Table } from '@chakra-ui/react'
import { type TaxFilingList, withdrawFilingBody } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useClient } from '../context/ClientContext.tsx'
import { TextField } from '../ui/form/fields.tsx'
import { useSchemaForm } from '../ui/form/useSchemaForm.ts'
import { dateText, rangeText } from '../ui/formats.ts'
import { Modal } from '../ui/Modal.tsx'
import { useNotice } from '../ui/Notice.tsx'
import { taxFilingsQuery, useMappingActs } from './mappingQueries.ts'
import { NewFiling } from './NewFiling.tsx'

type Filing = TaxFilingList['filings'][number]

/** Tax periods that were filed: what is corrected in them afterwards is booked after them. */
export const TaxFilings = ({ month }: { readonly month: string }) => {
  const { clientId } = useClient()
  const { data } = useQuery(taxFilingsQuery(clientId))
  const [withdrawn, setWithdrawn] = useState<Filing | null>(null)
  return (
    <section aria-label="Filed periods" style={{ marginTop: 18 }}>
      <h2 style={{ fontSize: 15, fontWeight: 600, margin: '0 0 6px' }}>
        Filed periods{' '}
        <Span color="muted" textStyle="small">
          a correction of what is in one is dated after it
        </Span>
      </h2>
      <Table.Root aria-label="Filed tax periods" style={{ width: 'auto', minWidth: 760 }}>
        <Table.Header>
          <Table.Row>
            <Table.ColumnHeader>Agency</Table.ColumnHeader>
            <Table.ColumnHeader>Period</Table.ColumnHeader>
            <Table.ColumnHeader>Filed on</Table.ColumnHeader>
            <Table.ColumnHeader>By</Table.ColumnHeader>
            <Table.ColumnHeader />
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {(data?.filings ?? []).map(filing => (
            <Table.Row key={filing.id} data-tone={filing.withdrawn ? 'muted' : ''}>
              <Table.Cell>{filing.agency}</Table.Cell>
              <Table.Cell>{rangeText(filing.from, filing.to)}</Table.Cell>
              <Table.Cell>{dateText(filing.filedOn)}</Table.Cell>
              <Table.Cell>{filing.by}</Table.Cell>
              <Table.Cell whiteSpace="normal" lineHeight="1.25">
                {filing.withdrawn ? (
                  `withdrawn by ${filing.withdrawn.by}: ${filing.withdrawn.reason}`
                ) : (
                  <Button variant="ghost" onClick={() => setWithdrawn(filing)}>
                    Withdraw
                  </Button>
                )}
              </Table.Cell>
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
      <NewFiling key={month} month={month} />
      {withdrawn ? <Withdraw filing={withdrawn} onClose={() => setWithdrawn(null)} /> : null}
    </section>
  )
}

const Withdraw = ({ filing, onClose }: { readonly filing: Filing; readonly onClose: () => void }) => {
  const { clientId } = useClient()
  const notice = useNotice()
  const { withdrawFiling } = useMappingActs(clientId)
  const form = useSchemaForm(withdrawFilingBody, { reason: '' })
  const store = form.handleSubmit(({ reason }) =>
    withdrawFiling.mutate({ id: filing.id, reason }, { onError: notice.refuse, onSuccess: onClose }),
  )
  return (
    <Modal
      open
      title={`Withdraw ${rangeText(filing.from, filing.to)}, ${filing.agency}`}
      onClose={onClose}
      foot={
        <>
          <Button variant="solid" disabled={withdrawFiling.isPending} onClick={() => void store()}>
            Withdraw the filing
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </>
      }
    >
      <chakra.p textStyle="small" style={{ margin: '0 0 8px' }}>
        Corrections of what is in it are dated like their journals again. It stays in the list, with your name and
        reason.
      </chakra.p>
      <TextField control={form.control} name="reason" label="Reason" />
    </Modal>
  )
}
