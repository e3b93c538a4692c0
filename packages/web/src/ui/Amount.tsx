import type { TraceStart } from '@culvert/contract'
import { useClient } from '../context/ClientContext.tsx'
import { useTrace } from '../context/TraceContext.tsx'
import { amountText, currencySign } from './formats.ts'

interface AmountProps {
  readonly minor: number | null
  readonly currency?: string
  /** Where its trace begins; without, it is plain text. */
  readonly trace?: TraceStart | null
  /** What pressing it does instead of tracing, where its parts stand on the same page. */
  readonly onOpen?: () => void
  readonly signed?: boolean
  readonly className?: string
}

/** An amount as the client's locale writes it. With `trace` or `onOpen`, pressing it opens what it is made of. */
export const Amount = ({ minor, currency, trace, onOpen, signed, className }: AmountProps) => {
  const { base, locale } = useClient()
  const { open } = useTrace()
  if (minor === null) return null
  const unit = currency ?? base
  const text = `${signed ? `${currencySign(unit)} ` : ''}${amountText(minor, unit, locale)}`
  const act = onOpen ?? (trace ? () => open(trace) : null)
  if (act === null) return <span className={`amount ${className ?? ''}`}>{text}</span>
  return (
    <button
      type="button"
      className={`amount ${className ?? ''}`}
      aria-label={`${onOpen ? 'Open' : 'Trace'} ${text}`}
      onClick={event => {
        event.stopPropagation()
        act()
      }}
    >
      {text}
    </button>
  )
}
