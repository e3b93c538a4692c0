import { Box, Button, Kbd, Span } from '@chakra-ui/react'
import type { BankPage } from '@culvert/contract'
import { useState } from 'react'
import { useClient } from '../context/ClientContext.tsx'
import { Act } from '../ui/Act.tsx'
import { FootBar } from '../ui/FootBar.tsx'
import { amountText, countText } from '../ui/formats.ts'
import { useKey } from '../ui/keys.ts'
import { keyOfLine, keyOfTransfer } from './arrangeTide.ts'
import { DifferenceField } from './DifferenceField.tsx'
import type { BankActs } from './useBankSelection.ts'

interface PickedBarProps {
  readonly page: BankPage
  readonly picked: ReadonlySet<string>
  readonly acts: BankActs
}

/** What was picked by hand: both sides added up, what lies between them, and the acts on all of it. */
export const PickedBar = ({ page, picked, acts }: PickedBarProps) => {
  const { locale } = useClient()
  const [account, setAccount] = useState<string | null>(page.differenceAccount)
  const { currency } = page.account
  const transfers = page.transfers.filter(one => picked.has(keyOfTransfer(one.id)))
  const lines = page.lines.filter(one => picked.has(keyOfLine(one.id)))
  const sum = (items: readonly { amount: number }[]) => items.reduce((total, one) => total + one.amount, 0)
  const money = (minor: number) => (minor === 0 ? '0.00' : amountText(minor, currency, locale))
  // A payout in another currency was booked at its day's rate; only the server knows what that came to in base.
  const foreign = transfers.some(one => one.currency !== currency)
  const difference = sum(lines) - sum(transfers)
  const bothSides = transfers.length > 0 && lines.length > 0
  const agrees = !foreign && difference === 0
  const ready = bothSides && (agrees || account !== null)
  const confirm = () => ready && !acts.busy && acts.confirm(agrees ? null : account)
  useKey('p', 'confirm what is picked', confirm)
  useKey('s', 'set aside', acts.askAside)
  useKey('esc', 'pick nothing', acts.clear)
  return (
    <FootBar>
      <Box flex="1" minW="0" lineHeight="1.35">
        <Box>
          <Span fontWeight="600" color="plum">
            ✓ picked
          </Span>
          {` · ${countText(transfers.length, 'payout')} ${foreign ? '' : money(sum(transfers))} · ${countText(lines.length, 'bank line')} ${money(sum(lines))}`}
        </Box>
        <Box textStyle="small" color={bothSides && !agrees ? 'ochre' : 'muted'}>
          {!bothSides
            ? 'pick from both sides to pair them: Space picks, h and l go across'
            : foreign
              ? 'what arrived is held against what was booked at the rate of the payout’s day'
              : difference === 0
                ? 'both sides agree to the cent'
                : `difference ${money(difference)}: a fee, an exchange difference, or not the same money`}
        </Box>
      </Box>
      {bothSides && !agrees ? <DifferenceField value={account} onChange={setAccount} /> : null}
      {bothSides ? (
        <Act right="pair" variant="solid" disabled={!ready || acts.busy} onClick={confirm}>
          {agrees ? 'Pair these' : 'Pair and book it'} <Kbd aria-hidden="true">p</Kbd>
        </Act>
      ) : null}
      <Act right="pair" disabled={acts.busy} onClick={acts.askAside}>
        Set {picked.size} aside <Kbd aria-hidden="true">s</Kbd>
      </Act>
      <Button variant="plain" onClick={acts.clear}>
        Clear <Kbd aria-hidden="true">Esc</Kbd>
      </Button>
    </FootBar>
  )
}
