import { Flex, Span } from '@chakra-ui/react'
import type { OneSidedRow } from '@culvert/contract'
import { Amount } from '../ui/Amount.tsx'
import { Choices } from '../ui/form/Choices.tsx'
import { dateText } from '../ui/formats.ts'
import { evidenceText } from './decisionText.ts'

interface AttachChoiceProps {
  readonly candidates: OneSidedRow['candidates']
  readonly value: { readonly source: string; readonly lineId: string }
  readonly onChange: (to: { source: string; lineId: string }) => void
}

/** Which payment of the other side it is, each with what speaks for it. */
export const AttachChoice = ({ candidates, value, onChange }: AttachChoiceProps) => {
  const keyOf = (one: { source: string; lineId: string }) => `${one.source} ${one.lineId}`
  return (
    <Choices
      label="The other side"
      value={keyOf(value)}
      choices={candidates.map(one => ({
        value: keyOf(one),
        text: (
          <Flex gap="12px" display="inline-flex">
            <Span textStyle="mono">{one.order ?? one.lineId}</Span>
            <span>{one.customer}</span>
            <span>{dateText(one.date)}</span>
            <Amount minor={one.amount} currency={one.currency} signed />
          </Flex>
        ),
        detail: evidenceText(one),
      }))}
      onChange={key => {
        const chosen = candidates.find(one => keyOf(one) === key)
        if (chosen) onChange({ source: chosen.source, lineId: chosen.lineId })
      }}
    />
  )
}
