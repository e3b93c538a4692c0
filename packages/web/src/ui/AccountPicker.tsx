import { Box, Span } from '@chakra-ui/react'
import type { AccountRow } from '@culvert/contract'
import { type AccountType, type Kind, kinds } from '@culvert/core'
import { useState } from 'react'
import { Combo, type ComboChoice } from './Combo.tsx'
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

const make = 'make'
const otherPrefix = 'other '

const Line = ({ code, name, detail }: { readonly code?: string; readonly name: string; readonly detail: string }) => (
  <>
    {code === undefined ? null : <Span textStyle="mono">{code}</Span>}
    <span>{name}</span>
    <Span color="muted" textStyle="small" ml="auto">
      {detail}
    </Span>
  </>
)

const choicesOf = ({ kind, accounts, others = [] }: AccountPickerProps, text: string): readonly ComboChoice[] => {
  const usual: readonly AccountType[] = kinds[kind].accountTypes
  const fitting = accounts
    .filter(account => !account.archived)
    .map(account => ({ account, score: score(account, text, usual) }))
    .filter(one => one.score > 0)
    .sort((left, right) => right.score - left.score || (left.account.code < right.account.code ? -1 : 1))
    .slice(0, 12)
  return [
    ...fitting.map(({ account: { code, name, type } }) => ({
      value: code,
      title: `${code} ${name}`,
      content: <Line code={code} name={name} detail={accountTypeText(type)} />,
    })),
    ...others
      .filter(one => otherFits(one, text))
      .slice(0, 6)
      .map(({ key, title, detail }) => ({
        value: otherPrefix + key,
        title,
        content: <Line name={title} detail={detail} />,
      })),
    {
      value: make,
      title: 'Make an account',
      content: <Span color="plum">Make an account{text.trim() ? ` “${text.trim()}”` : ''} …</Span>,
    },
  ]
}

/** Chooses an account by typing its code or name; usual types for the kind come first; makes a missing one in place. */
export const AccountPicker = (props: AccountPickerProps) => {
  const { label, kind, accounts, value, onChange, others = [], other, onOther } = props
  const [text, setText] = useState<string | null>(null)
  const [making, setMaking] = useState<string | null>(null)
  const chosen = accounts.find(account => account.code === value)
  const chosenOther = others.find(one => one.key === other)
  const choices = text === null ? [] : choicesOf(props, text)
  // The first that fits is what Enter takes; making one is never taken by default.
  const first = choices[0]?.value ?? make
  const away = (): void => setText(null)
  const take = (taken: string): void => {
    if (taken === make) setMaking(text?.trim() ?? '')
    else if (taken.startsWith(otherPrefix)) onOther?.(taken.slice(otherPrefix.length))
    else onChange(taken)
    away()
  }
  return (
    <Box w="262px">
      <Combo
        label={label}
        placeholder="Type to search accounts"
        choices={choices}
        first={first === make ? null : first}
        text={text ?? chosenOther?.title ?? (chosen ? `${chosen.code} ${chosen.name}` : (value ?? ''))}
        onText={setText}
        open={text !== null}
        onOpen={open => (open ? setText(before => before ?? '') : away())}
        onTake={take}
        listWidth="380px"
      />
      <NewAccountDialog
        open={making !== null}
        name={making ?? ''}
        type={kinds[kind].accountTypes[0] ?? 'expense'}
        accounts={accounts}
        onClose={() => setMaking(null)}
        onMade={code => {
          setMaking(null)
          onChange(code)
        }}
      />
    </Box>
  )
}
