import { Button, chakra, Flex, Input, Span, Table } from '@chakra-ui/react'
import type { TaxFilingBody, TaxFilingList } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useClient } from '../context/ClientContext.tsx'
import { dateText, rangeText } from '../ui/formats.ts'
import { Modal } from '../ui/Modal.tsx'
import { useNotice } from '../ui/Notice.tsx'
import { taxFilingsQuery, useMappingActs } from './mappingQueries.ts'

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
          <NewFiling key={month} month={month} />
        </Table.Body>
      </Table.Root>
      {withdrawn ? <Withdraw filing={withdrawn} onClose={() => setWithdrawn(null)} /> : null}
    </section>
  )
}

const lastDay = (month: string): string =>
  new Date(Date.UTC(Number(month.slice(0, 4)), Number(month.slice(5)), 0)).toISOString().slice(0, 10)

const NewFiling = ({ month }: { readonly month: string }) => {
  const { clientId } = useClient()
  const notice = useNotice()
  const { fileTax } = useMappingActs(clientId)
  const [draft, setDraft] = useState<TaxFilingBody>({
    agency: '',
    from: `${month}-01`,
    to: lastDay(month),
    filedOn: '',
  })
  const field = (name: keyof TaxFilingBody, label: string, type = 'date') => (
    <Input
      type={type}
      aria-label={label}
      placeholder={label}
      value={draft[name]}
      onChange={event => setDraft({ ...draft, [name]: event.target.value })}
    />
  )
  const missing = draft.agency.trim() === '' ? 'name the agency' : draft.filedOn === '' ? 'say when it was filed' : null
  return (
    <Table.Row>
      <Table.Cell>{field('agency', 'Agency', 'text')}</Table.Cell>
      <Table.Cell>
        <Flex gap="6px" align="center">
          {field('from', 'Period from')} – {field('to', 'Period to')}
        </Flex>
      </Table.Cell>
      <Table.Cell>{field('filedOn', 'Filed on')}</Table.Cell>
      <Table.Cell colSpan={2}>
        <Button
          disabled={missing !== null || fileTax.isPending}
          title={missing ?? undefined}
          onClick={() =>
            fileTax.mutate(draft, {
              onError: notice.refuse,
              onSuccess: () => {
                notice.say(`Marked as filed with ${draft.agency}. What is corrected in it is dated after it.`)
                setDraft({ ...draft, agency: '', filedOn: '' })
              },
            })
          }
        >
          Mark as filed
        </Button>{' '}
        <Span color="muted" textStyle="small">
          {missing}
        </Span>
      </Table.Cell>
    </Table.Row>
  )
}

const Withdraw = ({ filing, onClose }: { readonly filing: Filing; readonly onClose: () => void }) => {
  const { clientId } = useClient()
  const notice = useNotice()
  const { withdrawFiling } = useMappingActs(clientId)
  const [reason, setReason] = useState('')
  return (
    <Modal
      open
      title={`Withdraw ${rangeText(filing.from, filing.to)}, ${filing.agency}`}
      onClose={onClose}
      foot={
        <>
          <Button
            variant="solid"
            disabled={reason.trim() === '' || withdrawFiling.isPending}
            onClick={() =>
              withdrawFiling.mutate({ id: filing.id, reason }, { onError: notice.refuse, onSuccess: onClose })
            }
          >
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
      <Input
        aria-label="Reason"
        placeholder="Reason"
        value={reason}
        onChange={event => setReason(event.target.value)}
        w="100%"
      />
    </Modal>
  )
}
