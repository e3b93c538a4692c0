import { Button, Span, type SpanProps } from '@chakra-ui/react'
import type { TraceStart } from '@culvert/contract'
import { useClient } from '../context/ClientContext.tsx'
import { useTrace } from '../context/TraceContext.tsx'
import { amountText, currencySign } from './formats.ts'

interface AmountProps extends Pick<SpanProps, 'color' | 'fontWeight'> {
  readonly minor: number | null
  readonly currency?: string
  /** Where its trace begins; without, it is plain text. */
  readonly trace?: TraceStart | null
  /** What pressing it does instead of tracing, where its parts stand on the same page. */
  readonly onOpen?: () => void
  readonly signed?: boolean
}

/** An amount as the client's locale writes it. With `trace` or `onOpen`, pressing it opens what it is made of. */
export const Amount = ({ minor, currency, trace, onOpen, signed, color = 'inherit', ...look }: AmountProps) => {
  const { base, locale } = useClient()
  const { open } = useTrace()
  if (minor === null) return null
  const unit = currency ?? base
  const text = `${signed ? `${currencySign(unit)} ` : ''}${amountText(minor, unit, locale)}`
  const act = onOpen ?? (trace ? () => open(trace) : null)
  const style = { fontVariantNumeric: 'tabular-nums', color, ...look }
  if (act === null) return <Span {...style}>{text}</Span>
  return (
    <Button
      variant="ghost"
      _hover={{ textDecoration: 'underline', textDecorationStyle: 'dotted', textUnderlineOffset: '3px' }}
      {...style}
      aria-label={`${onOpen ? 'Open' : 'Trace'} ${text}`}
      onClick={event => {
        event.stopPropagation()
        act()
      }}
    >
      {text}
    </Button>
  )
}
