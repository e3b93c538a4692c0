import { Button, Span } from '@chakra-ui/react'
import type { ProofPage } from '@culvert/contract'
import { Link } from 'react-router'
import { useHref } from '../context/ClientContext.tsx'
import { pageOfRef, startOfRef } from '../context/startOfLink.ts'
import { useTrace } from '../context/TraceContext.tsx'
import { dayText, readableDates } from '../ui/formats.ts'

type ProofDocument = ProofPage['causes'][number]['documents'][number]

/** The name of a document of a proof, leading to its page, or to its trace where it has none. */
export const DocumentName = ({
  document,
  currency,
}: {
  readonly document: ProofDocument
  readonly currency: string
}) => {
  const href = useHref()
  const { open } = useTrace()
  const day = document.date === null ? '' : `, ${dayText(document.date)}`
  const { ref } = document
  const page = ref && pageOfRef(ref, currency)
  const start = ref && startOfRef(ref, currency)
  if (page)
    return (
      <>
        <Link to={href(page)}>{readableDates(document.name)}</Link>
        <Span color="muted">{day}</Span>
      </>
    )
  if (!start) return <>{document.name || 'lines up to this date'}</>
  return (
    <Button variant="ghost" onClick={() => open(start)}>
      {ref?.of === 'order' ? 'order' : 'line'} {document.name}
      {day}
    </Button>
  )
}
