import { Box, Span } from '@chakra-ui/react'
import type { AccountRow } from '@culvert/contract'
import { type AccountType, type Kind, kinds } from '@culvert/core'
import { Command } from 'cmdk'
import { useEffect, useRef, useState } from 'react'
import { Choice, ChoiceInput, ChoiceList } from './choices.tsx'
import { NewAccountDialog } from './NewAccountDialog.tsx'
import { accountTypeText } from './words.ts'

interface AccountPickerProps {
  readonly label: string
  readonly kind: Kind
  readonly accounts: readonly AccountRow[]
  readonly value: string | null
  readonly onChange: (account: string) => void
  /** What a route can point to besides an account. */
  readonly others?: readonly OtherTarget[]
  /** The one of them that is chosen, by its key. */
  readonly other?: string | null
  readonly onOther?: (key: string) => void
}

export interface OtherTarget {
  readonly key: string
  readonly title: string
  readonly detail: string
}

const otherFits = ({ title, detail }: OtherTarget, text: string): boolean =>
  text
    .trim()
    .toLowerCase()
    .split(/\s+/)
    .every(word => `${title} ${detail}`.toLowerCase().includes(word))

const score = (account: AccountRow, text: string, usual: readonly AccountType[]): number => {
  const wanted = text.trim().toLowerCase()
  const name = account.name.toLowerCase()
  if (wanted !== '' && !wanted.split(/\s+/).every(word => name.includes(word) || account.code.startsWith(word)))
    return 0
  return (
    1 +
    (account.code.startsWith(wanted) || name.startsWith(wanted) ? 2 : 0) +
    (usual.includes(account.type as AccountType) ? 4 : 0)
  )
}

const listPlace = { w: '380px', maxH: '330px', zIndex: '12', top: '30px' } as const

/** Chooses an account by typing its code or name; usual types for the kind come first; makes a missing one in place. */
export const AccountPicker = (props: AccountPickerProps) => {
  const { label, kind, accounts, value, onChange, others = [], other, onOther } = props
  const [text, setText] = useState<string | null>(null)
  const [making, setMaking] = useState(false)
  const input = useRef<HTMLInputElement>(null)
  const chosen = accounts.find(account => account.code === value)
  const chosenOther = others.find(one => one.key === other)
  const shownOthers = text === null ? [] : others.filter(one => otherFits(one, text)).slice(0, 6)
  const usual: readonly AccountType[] = kinds[kind].accountTypes
  const shown =
    text === null
      ? []
      : accounts
          .filter(account => !account.archived)
          .map(account => ({ account, score: score(account, text, usual) }))
          .filter(one => one.score > 0)
          .sort((left, right) => right.score - left.score || (left.account.code < right.account.code ? -1 : 1))
          .slice(0, 12)
  // The first that fits is what Enter takes, also when the accounts come later than what is typed: making one is never taken by default.
  const first = shown[0]?.account.code ?? (shownOthers[0] ? `other ${shownOthers[0].key}` : '')
  const [at, setAt] = useState('')
  useEffect(() => setAt(first), [first])
  const take = (code: string): void => {
    onChange(code)
    setText(null)
    input.current?.blur()
  }
  return (
    <Box position="relative" w="262px">
      <Command
        shouldFilter={false}
        label={label}
        value={at}
        onValueChange={setAt}
        onKeyDown={event => {
          if (event.key !== 'Escape') return
          setText(null)
          input.current?.blur()
        }}
      >
        <ChoiceInput
          ref={input}
          aria-label={label}
          placeholder="Type to search accounts"
          value={text ?? (chosenOther ? chosenOther.title : chosen ? `${chosen.code} ${chosen.name}` : (value ?? ''))}
          onValueChange={setText}
          onFocus={() => setText('')}
          onBlur={() => setTimeout(() => setText(null), 150)}
        />
        <ChoiceList {...listPlace} display={text === null ? 'none' : 'block'}>
          {text === null ? null : (
            <>
              {shown.map(({ account }) => (
                <Choice key={account.code} value={account.code} onSelect={() => take(account.code)}>
                  <Span textStyle="mono">{account.code}</Span>
                  <span>{account.name}</span>
                  <Span color="muted" textStyle="small" ml="auto">
                    {accountTypeText(account.type)}
                  </Span>
                </Choice>
              ))}
              {shownOthers.map(one => (
                <Choice
                  key={one.key}
                  value={`other ${one.key}`}
                  onSelect={() => {
                    onOther?.(one.key)
                    setText(null)
                    input.current?.blur()
                  }}
                >
                  <span>{one.title}</span>
                  <Span color="muted" textStyle="small" ml="auto">
                    {one.detail}
                  </Span>
                </Choice>
              ))}
              <Choice
                value="make"
                onSelect={() => {
                  setMaking(true)
                  setText(null)
                }}
              >
                <Span color="plum">Make an account{text.trim() ? ` “${text.trim()}”` : ''} …</Span>
              </Choice>
            </>
          )}
        </ChoiceList>
      </Command>
      <NewAccountDialog
        open={making}
        name={text ?? ''}
        type={usual[0] ?? 'expense'}
        accounts={accounts}
        onClose={() => setMaking(false)}
        onMade={code => {
          setMaking(false)
          take(code)
        }}
      />
    </Box>
  )
}
