import { Box, Span } from '@chakra-ui/react'
import type { AccountRow } from '@culvert/contract'
import { type AccountType, type Kind, kinds } from '@culvert/core'
import { Command } from 'cmdk'
import { useRef, useState } from 'react'
import { NewAccountDialog } from './NewAccountDialog.tsx'
import { accountTypeText } from './words.ts'
import './picker.css'

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
        onKeyDown={event => {
          if (event.key !== 'Escape') return
          setText(null)
          input.current?.blur()
        }}
      >
        <Command.Input
          ref={input}
          className="picker-input"
          aria-label={label}
          placeholder="Type to search accounts"
          value={text ?? (chosenOther ? chosenOther.title : chosen ? `${chosen.code} ${chosen.name}` : (value ?? ''))}
          onValueChange={setText}
          onFocus={() => setText('')}
          onBlur={() => setTimeout(() => setText(null), 150)}
        />
        <Command.List className={text === null ? 'choices picker-list closed' : 'choices picker-list'}>
          {text === null ? null : (
            <>
              {shown.map(({ account }) => (
                <Command.Item key={account.code} value={account.code} onSelect={() => take(account.code)}>
                  <Span textStyle="mono">{account.code}</Span>
                  <span>{account.name}</span>
                  <Span color="muted" textStyle="small" className="right">
                    {accountTypeText(account.type)}
                  </Span>
                </Command.Item>
              ))}
              {shownOthers.map(one => (
                <Command.Item
                  key={one.key}
                  value={`other ${one.key}`}
                  onSelect={() => {
                    onOther?.(one.key)
                    setText(null)
                    input.current?.blur()
                  }}
                >
                  <span>{one.title}</span>
                  <Span color="muted" textStyle="small" className="right">
                    {one.detail}
                  </Span>
                </Command.Item>
              ))}
              <Command.Item
                value="make"
                onSelect={() => {
                  setMaking(true)
                  setText(null)
                }}
              >
                <Span color="plum">Make an account{text.trim() ? ` “${text.trim()}”` : ''} …</Span>
              </Command.Item>
            </>
          )}
        </Command.List>
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
