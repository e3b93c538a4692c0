import { Flex } from '@chakra-ui/react'
import type { TaxFilingBody, TaxFilingList } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useClient } from '../context/ClientContext.tsx'
import { Button } from '../ui/Button.tsx'
import { dateText, rangeText } from '../ui/formats.ts'
import { Input } from '../ui/Input.tsx'
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
        Filed periods <span className="muted small">a correction of what is in one is dated after it</span>
      </h2>
      <table className="sheet" aria-label="Filed tax periods" style={{ width: 'auto', minWidth: 760 }}>
        <thead>
          <tr>
            <th>Agency</th>
            <th>Period</th>
            <th>Filed on</th>
            <th>By</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {(data?.filings ?? []).map(filing => (
            <tr key={filing.id} className={filing.withdrawn ? 'muted' : ''}>
              <td>{filing.agency}</td>
              <td>{rangeText(filing.from, filing.to)}</td>
              <td>{dateText(filing.filedOn)}</td>
              <td>{filing.by}</td>
              <td className="wrap">
                {filing.withdrawn ? (
                  `withdrawn by ${filing.withdrawn.by}: ${filing.withdrawn.reason}`
                ) : (
                  <button type="button" className="linklike" onClick={() => setWithdrawn(filing)}>
                    Withdraw
                  </button>
                )}
              </td>
            </tr>
          ))}
          <NewFiling key={month} month={month} />
        </tbody>
      </table>
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
    <tr>
      <td>{field('agency', 'Agency', 'text')}</td>
      <td>
        <Flex gap="6px" align="center">
          {field('from', 'Period from')} – {field('to', 'Period to')}
        </Flex>
      </td>
      <td>{field('filedOn', 'Filed on')}</td>
      <td colSpan={2}>
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
        <span className="muted small">{missing}</span>
      </td>
    </tr>
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
            look="main"
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
      <p className="small" style={{ margin: '0 0 8px' }}>
        Corrections of what is in it are dated like their journals again. It stays in the list, with your name and
        reason.
      </p>
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
