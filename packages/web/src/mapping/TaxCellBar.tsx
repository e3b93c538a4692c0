import { Button, Input, Span } from '@chakra-ui/react'
import type { TaxCodeRow } from '@culvert/contract'
import { type GridCell, isForeign } from '@culvert/core'
import { countText } from '../ui/formats.ts'
import { Select } from '../ui/Select.tsx'
import { regionText } from './taxPlaceText.ts'
import type { CellAt, CellCode } from './useTaxDraft.ts'

interface TaxCellBarProps {
  readonly at: CellAt
  readonly cell: GridCell
  readonly codes: readonly TaxCodeRow[]
  /** What is proposed where nothing is decided; never taken by itself. */
  readonly proposal: { readonly code: string; readonly why: string } | null
  readonly onSet: (to: CellCode | undefined) => void
  readonly onAcross: () => void
  readonly onDown: () => void
  /** Lists the lines that its money is made of. */
  readonly onLines: () => void
  readonly onNewCode: () => void
}

/** Reasons for which a code of another country is meant. */
const reasons = ['below the threshold', 'tax of origin', 'service used elsewhere'] as const

/** What the chosen cell bears, and how far that reaches. */
export const TaxCellBar = ({
  at,
  cell,
  codes,
  proposal,
  onSet,
  onAcross,
  onDown,
  onLines,
  onNewCode,
}: TaxCellBarProps) => {
  const own = cell.own as (CellCode & { readonly code: string | null }) | null
  const value = own === null ? 'wider' : (own.code ?? 'none')
  const code = codes.find(one => one.code === own?.code)
  const set = (to: string): void => {
    if (to === 'new') onNewCode()
    else if (to === 'wider') onSet(undefined)
    else onSet({ code: to === 'none' ? null : to, reason: '' })
  }
  return (
    <>
      <Span fontWeight="600">
        {regionText(at.region)} · {at.class || 'no class'}
      </Span>
      <Select aria-label="Tax code of the chosen cell" value={value} onChange={event => set(event.target.value)}>
        <option value="wider">
          {cell.serving && cell.serving !== cell.own
            ? `as wider: ${cell.serving.code ?? 'no tax'}`
            : 'not decided here'}
        </option>
        <option value="none">no tax on purpose</option>
        {codes
          .filter(one => one.use === 'sales')
          .map(one => (
            <option key={one.code} value={one.code}>
              {one.code} · {one.name}
              {one.country ? ` · ${one.country}` : ''}
            </option>
          ))}
        <option value="new">a new tax code …</option>
      </Select>
      {proposal ? (
        <Button onClick={() => onSet({ code: proposal.code, reason: '' })}>
          Take {proposal.code}: {proposal.why}
        </Button>
      ) : null}
      {own && isForeign(code, at.region) ? (
        <>
          <Input
            list="tax-reasons"
            aria-label="Why another country’s tax"
            placeholder={`why tax of ${code?.country}?`}
            value={own.reason}
            onChange={event => onSet({ code: own.code, reason: event.target.value })}
          />
          <datalist id="tax-reasons">
            {reasons.map(reason => (
              <option key={reason} value={reason} />
            ))}
          </datalist>
        </>
      ) : null}
      {cell.lines > 0 ? <Button onClick={onLines}>{`List its ${countText(cell.lines, 'line')}`}</Button> : null}
      <Button disabled={own === null} onClick={onAcross} title="The same code for all classes of this place">
        Fill across
      </Button>
      <Button disabled={own === null} onClick={onDown} title="The same code for all places seen, in this class">
        Fill down
      </Button>
    </>
  )
}
