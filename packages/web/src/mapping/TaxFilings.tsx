import { Box, Button, chakra, Span } from '@chakra-ui/react'
import { type TaxFilingList, withdrawFilingBody } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useClient } from '../context/ClientContext.tsx'
import { Act } from '../ui/Act.tsx'
import { TextField } from '../ui/form/fields.tsx'
import { useSchemaForm } from '../ui/form/useSchemaForm.ts'
import { dateText, rangeText } from '../ui/formats.ts'
import { Modal } from '../ui/Modal.tsx'
import { useNotice } from '../ui/Notice.tsx'
import type { SheetColumn } from '../ui/sheet/column.ts'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'
import { taxFilingsQuery, useMappingActs } from './mappingQueries.ts'
import { NewFiling } from './NewFiling.tsx'
import { Registrations } from './Registrations.tsx'

type Filing = TaxFilingList['filings'][number]

/** Tax periods that were filed: what is corrected in them afterwards is booked after them. */
export const TaxFilings = ({ month }: { readonly month: string }) => {
  const { clientId } = useClient()
  const { data } = useQuery(taxFilingsQuery(clientId))
  const [withdrawn, setWithdrawn] = useState<Filing | null>(null)
  const columns: readonly SheetColumn<Filing>[] = [
    { id: 'agency', head: 'Agency', value: one => one.agency, cell: one => one.agency },
    { id: 'period', head: 'Period', value: one => one.from, cell: one => rangeText(one.from, one.to) },
    { id: 'filed', head: 'Filed on', value: one => one.filedOn, cell: one => dateText(one.filedOn) },
    { id: 'by', head: 'By', value: one => one.by, cell: one => one.by },
    {
      id: 'act',
      head: '',
      wraps: true,
      value: one => one.withdrawn?.reason ?? '',
      cell: one =>
        one.withdrawn ? (
          `withdrawn by ${one.withdrawn.by}: ${one.withdrawn.reason}`
        ) : (
          <Act right="file" variant="ghost" onClick={() => setWithdrawn(one)}>
            Withdraw
          </Act>
        ),
    },
  ]
  return (
    <section aria-label="Filed periods" style={{ marginTop: 18 }}>
      <h2 style={{ fontSize: 15, fontWeight: 600, margin: '0 0 6px' }}>
        Filed periods{' '}
        <Span color="muted" textStyle="small">
          an entry whose tax codes feed the registration is dated after it
        </Span>
      </h2>
      <Box w="fit-content" minW="760px">
        <SheetTable
          scope="filing-"
          label="Filed tax periods"
          columns={columns}
          rows={data?.filings ?? []}
          rowKey={filing => String(filing.id)}
          tone={filing => (filing.withdrawn ? 'muted' : undefined)}
          empty="No period is said to be filed."
        />
      </Box>
      <NewFiling key={month} month={month} />
      <Registrations />
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
      onSubmit={() => void store()}
      changed={form.formState.isDirty}
      title={`Withdraw ${rangeText(filing.from, filing.to)}, ${filing.agency}`}
      onClose={onClose}
      foot={
        <>
          <Button type="submit" variant="solid" disabled={withdrawFiling.isPending}>
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
