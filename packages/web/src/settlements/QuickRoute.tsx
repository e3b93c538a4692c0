import { Flex } from '@chakra-ui/react'
import type { Kind } from '@culvert/core'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useClient } from '../context/ClientContext.tsx'
import { mappingQuery, useMapActs } from '../context/sharedQueries.ts'
import { AccountPicker } from '../ui/AccountPicker.tsx'
import { Act } from '../ui/Act.tsx'
import { countText } from '../ui/formats.ts'
import { useNotice } from '../ui/Notice.tsx'
import { TaxChoice } from '../ui/TaxChoice.tsx'
import { kindText } from '../ui/words.ts'

/** Maps a kind from where it was found missing. */
export const QuickRoute = ({
  source,
  kind,
  category,
}: {
  readonly source: string
  readonly kind: Kind
  readonly category: string | null
}) => {
  const { clientId } = useClient()
  const { data } = useQuery(mappingQuery(clientId, source))
  const { save } = useMapActs(clientId)
  const notice = useNotice()
  const [account, setAccount] = useState<string | null>(null)
  const [taxCode, setTaxCode] = useState<string | null>(null)
  if (!data) return null
  const store = () =>
    save.mutate(
      { changed: [{ routeId: null, kind, category, source, account, taxCode }], version: data.version },
      {
        onSuccess: saved =>
          notice.say(
            `${kindText(kind, category)} goes to ${account}. ${countText(saved.unblocked, 'settlement')} no longer blocked.`,
          ),
        onError: notice.refuse,
      },
    )
  return (
    <Flex gap="8px" align="center">
      <AccountPicker
        label={`Account for ${kindText(kind, category)}`}
        kind={kind}
        accounts={data.accounts}
        value={account}
        onChange={setAccount}
      />
      <TaxChoice
        kind={kind}
        label={`Tax code for ${kindText(kind, category)}`}
        page={data}
        value={taxCode}
        onChange={setTaxCode}
      />
      <Act right="map" variant="solid" disabled={account === null || save.isPending} onClick={store}>
        Map it
      </Act>
    </Flex>
  )
}
