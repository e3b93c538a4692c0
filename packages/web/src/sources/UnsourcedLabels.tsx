import { Button } from '@chakra-ui/react'
import type { ServiceSort } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { missingQuery } from '../context/sharedQueries.ts'
import { useMay } from '../context/useMay.ts'
import { Amount } from '../ui/Amount.tsx'
import { countText } from '../ui/formats.ts'
import { useNotice } from '../ui/Notice.tsx'
import { OpenMatter } from '../ui/OpenMatter.tsx'
import { PageLink } from '../ui/PageLink.tsx'
import { servicesQuery, useGrantActs } from './grantQueries.ts'

/** Means of payment that a channel names and no source stands behind, with their money: offered to be connected, brought in by file, or said to be another’s. */
export const UnsourcedLabels = ({ onByFile }: { readonly onByFile: (service: ServiceSort) => void }) => {
  const { clientId } = useClient()
  const { data: missing } = useQuery(missingQuery(clientId))
  const { data: offered } = useQuery(servicesQuery(clientId))
  const labels = (missing?.accounts ?? []).filter(row => row.kind === 'tender' && row.label !== null)
  return labels.map(row => (
    <OpenMatter
      key={row.key}
      what={
        <>
          {row.label}:{' '}
          {countText(
            row.sources.reduce((sum, one) => sum + one.lines, 0),
            'payment',
          )}
          ,{' '}
          <Amount
            minor={Math.abs(row.amount)}
            signed
            trace={
              row.sources[0] && row.label
                ? { at: 'kind', source: row.sources[0].source, kind: 'tender', gateway: row.label }
                : null
            }
          />{' '}
          tendered, no source behind it
        </>
      }
      facts={`named by ${row.sources.map(one => one.name).join(', ')} as a means of payment`}
    >
      <Offers
        label={row.label ?? ''}
        service={offered?.services.find(one => one.name.toLowerCase() === row.label?.toLowerCase())?.key ?? null}
        onByFile={onByFile}
      />
    </OpenMatter>
  ))
}

const Offers = ({
  label,
  service,
  onByFile,
}: {
  readonly label: string
  readonly service: string | null
  readonly onByFile: (service: ServiceSort) => void
}) => {
  const { clientId } = useClient()
  const href = useHref()
  const may = useMay()
  const notice = useNotice()
  const { ask } = useGrantActs(clientId)
  return (
    <>
      <PageLink to={href('/payments')}>Stands for another source</PageLink>
      <PageLink to={href('/mapping/missing')}>An account of its own</PageLink>
      {may('connect') ? (
        service === null ? (
          <Button variant="plain" onClick={() => onByFile('card_processor')}>
            Add {label} by file
          </Button>
        ) : (
          <Button
            variant="plain"
            disabled={ask.isPending}
            onClick={() =>
              ask.mutate(
                { service },
                { onError: notice.refuse, onSuccess: ({ address }) => window.location.assign(address) },
              )
            }
          >
            Connect {label}
          </Button>
        )
      ) : null}
    </>
  )
}
