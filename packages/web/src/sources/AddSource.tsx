import { Button } from '@chakra-ui/react'
import type { AccountRow, ServiceSort } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useNavigate } from 'react-router'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { Instead } from '../ui/Instead.tsx'
import { Modal } from '../ui/Modal.tsx'
import { useNotice } from '../ui/Notice.tsx'
import { SourceFields, sourceOf, useSourceForm } from './SourceFields.tsx'
import { accountsQuery, useAddSource } from './sourceQueries.ts'

interface AddSourceProps {
  readonly service?: ServiceSort
  readonly onClose: () => void
}

/** Adds a source whose activity comes as files: what it is, and the account that its money passes through, found or made. */
const AddSource = (props: AddSourceProps) => {
  const { clientId } = useClient()
  const query = useQuery(accountsQuery(clientId))
  if (query.data) return <SourceForm accounts={query.data.accounts} {...props} />
  // No dialog stands in while they are asked for: as it goes it would take the focus back, and the next one would close.
  return query.error === null ? null : (
    <Modal open title="Add a source" onClose={props.onClose}>
      <Instead of={query} />
    </Modal>
  )
}

const SourceForm = ({
  accounts,
  service = 'marketplace',
  onClose,
}: AddSourceProps & { readonly accounts: readonly AccountRow[] }) => {
  const { clientId, base } = useClient()
  const href = useHref()
  const navigate = useNavigate()
  const notice = useNotice()
  const add = useAddSource(clientId)
  const form = useSourceForm(accounts, { name: '', service, currency: base, personalData: 'name' })
  const store = form.handleSubmit(wanted => {
    const source = sourceOf(wanted, accounts)
    add.mutate(source, {
      onError: notice.refuse,
      onSuccess: () => {
        notice.say(`${wanted.name} is added. Bring in a file of it.`)
        void navigate(href(`/sources/${source.source}`))
      },
    })
  })
  return (
    <Modal
      open
      title="Add a source"
      changed={form.formState.isDirty}
      onClose={onClose}
      onSubmit={() => void store()}
      foot={
        <>
          <Button type="submit" variant="solid" disabled={add.isPending}>
            Add source
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </>
      }
    >
      <SourceFields form={form} accounts={accounts} />
    </Modal>
  )
}

export default AddSource
