import { Box, Button, Flex } from '@chakra-ui/react'
import type { PersonalOfSource, PersonalScope } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useClient } from '../context/ClientContext.tsx'
import { useMay } from '../context/useMay.ts'
import { AskDialog } from '../ui/AskDialog.tsx'
import { type ChoiceOf, Choices } from '../ui/form/Choices.tsx'
import { countText } from '../ui/formats.ts'
import { Instead } from '../ui/Instead.tsx'
import { useNotice } from '../ui/Notice.tsx'
import { scopeText } from './scopeText.ts'
import { personalQuery, useSetPersonal } from './sourceQueries.ts'

const scopes: readonly ChoiceOf<PersonalScope>[] = [
  { value: 'all', text: scopeText.all, detail: 'name, e-mail, address, free text' },
  { value: 'name', text: scopeText.name },
  { value: 'none', text: scopeText.none },
]
const less: Record<PersonalScope, number> = { all: 2, name: 1, none: 0 }

/** What a source may tell of customers, what is kept of them, and the way to less. */
export const PersonalData = ({ source, name }: { readonly source: string; readonly name: string }) => {
  const { clientId } = useClient()
  const query = useQuery(personalQuery(clientId, source))
  const { data } = query
  return (
    <Box
      as="section"
      aria-label="Customers’ data"
      bg="sheet"
      borderWidth="1px"
      borderColor="hairline"
      maxW="880px"
      mt="18px"
      p="12px 16px"
    >
      <Box as="h2" fontSize="15px" fontWeight="600" mb="8px">
        What {name} may tell of customers
      </Box>
      {data ? <Chosen key={data.scope} source={source} data={data} /> : <Instead of={query} />}
    </Box>
  )
}

const Chosen = ({ source, data }: { readonly source: string; readonly data: PersonalOfSource }) => {
  const { clientId } = useClient()
  const may = useMay()('connect')
  const notice = useNotice()
  const set = useSetPersonal(clientId, source)
  const [wanted, setWanted] = useState(data.scope)
  const [asking, setAsking] = useState(false)
  const lost = wanted === 'none' ? data.names + data.more : data.more
  const save = () =>
    set.mutate(wanted, {
      onError: notice.refuse,
      onSuccess: () => notice.say('It holds from now on, and for what is kept.'),
    })
  return (
    <>
      <Choices label="What it may tell" disabled={!may} value={wanted} choices={scopes} onChange={setWanted} />
      <Box color="muted" mt="8px">
        Kept now of {countText(data.persons, 'order or line', 'orders and lines')}: {countText(data.names, 'name')},{' '}
        {countText(data.more, 'row')} with more than a name
        {data.erased > 0 ? `; ${data.erased} erased for good` : ''}. Lines, entries and proofs need none of it.
      </Box>
      {may ? (
        <Flex mt="10px">
          <Button
            disabled={wanted === data.scope || set.isPending}
            onClick={() => (less[wanted] < less[data.scope] ? setAsking(true) : save())}
          >
            Change it
          </Button>
        </Flex>
      ) : null}
      <AskDialog
        open={asking}
        title="Keep less of customers?"
        act="Save and erase"
        onClose={() => setAsking(false)}
        onAct={save}
      >
        What is kept beyond it is erased: of {countText(lost, 'row')}. Widened again, it comes back only as far as the
        source still tells it.
      </AskDialog>
    </>
  )
}
