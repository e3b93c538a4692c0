import { Box, Kbd, Span } from '@chakra-ui/react'
import type { FoundItem } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useRef, useState } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import { useNavigate } from 'react-router'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { startOfLink } from '../context/startOfLink.ts'
import { useTrace } from '../context/TraceContext.tsx'
import { Amount } from '../ui/Amount.tsx'
import { Combo, type ComboChoice } from '../ui/Combo.tsx'
import { readableDates } from '../ui/formats.ts'
import { typedDate } from '../ui/typedDate.ts'
import { findQuery } from './appQueries.ts'

const pages: readonly { title: string; link: string }[] = [
  { title: 'Sources', link: '/sources' },
  { title: 'Mapping: routes', link: '/mapping' },
  { title: 'Tax by destination', link: '/mapping/tax' },
  { title: 'Tax codes', link: '/mapping/tax/codes' },
  { title: 'Tax check', link: '/mapping/tax/check' },
  { title: 'Rules', link: '/mapping/rules' },
  { title: 'Items', link: '/mapping/items' },
  { title: 'Settlements', link: '/settlements' },
  { title: 'Payments: tie-out', link: '/payments' },
  { title: 'Decided payments', link: '/payments/decided' },
  { title: 'Disputed payments', link: '/payments/disputes' },
  { title: 'Clearing accounts', link: '/clearing' },
  { title: 'Bank: pairing', link: '/bank' },
  { title: 'Bank accounts and statements', link: '/bank/accounts' },
  { title: 'Chart of accounts', link: '/books' },
  { title: 'Entries', link: '/books/entries' },
  { title: 'Opening balances', link: '/books/opening' },
  { title: 'Exchange rates', link: '/books/rates' },
  { title: 'Close', link: '/close' },
  { title: 'Jobs', link: '/jobs' },
]

const sorts: Record<FoundItem['sort'], string> = {
  settlement: 'settlement',
  order: 'order',
  line: 'activity line',
  entry: 'entry',
  bank_line: 'bank line',
  transfer: 'transfer',
  account: 'account',
  customer: 'customer',
  page: 'page',
}

/** Finds by amount, number, name or page. */
export const FindBox = () => {
  const { clientId, locale } = useClient()
  const [text, setText] = useState('')
  const [open, setOpen] = useState(false)
  const input = useRef<HTMLInputElement>(null)
  const navigate = useNavigate()
  const href = useHref()
  const trace = useTrace()
  const { data } = useQuery(findQuery(clientId, typedDate(text, locale) ?? text))
  useHotkeys(
    'ctrl+k, meta+k',
    event => {
      event.preventDefault()
      input.current?.focus()
    },
    { enableOnFormTags: true },
  )
  const go = (link: string): void => {
    setOpen(false)
    setText('')
    const start = startOfLink(link.replace(/^trace:/, ''))
    if (start) trace.open(start)
    else void navigate(href(link))
  }
  const found = text.trim() === '' ? [] : (data?.items ?? [])
  const choices: readonly Found[] = open ? [...found.map(choiceOf), ...pagesNamed(text).map(choiceOfPage)] : []
  return (
    <Box w="368px" maxW="100%">
      <Combo
        label="Find"
        placeholder="Amount, number, name or page"
        choices={choices}
        first={choices[0]?.value ?? null}
        text={text}
        onText={value => {
          setText(value)
          setOpen(true)
        }}
        open={open}
        onOpen={setOpen}
        leaves
        // What was looked for before is written over by the next.
        onFocus={event => event.currentTarget.select()}
        onTake={value => {
          const taken = choices.find(one => one.value === value)
          if (taken) go(taken.link)
        }}
        empty={text.trim() === '' ? null : `Nothing found for “${text}”.`}
        listWidth="560px"
        inputRef={input}
      >
        <Box position="absolute" right="6px" top="4px" pointerEvents="none">
          <Kbd>Ctrl K</Kbd>
        </Box>
      </Combo>
    </Box>
  )
}

const pagesNamed = (text: string) => pages.filter(page => page.title.toLowerCase().includes(text.trim().toLowerCase()))

const Sort = ({ name }: { readonly name: string }) => (
  <Span color="muted" textStyle="small" w="84px" flexShrink={0}>
    {name}
  </Span>
)

interface Found extends ComboChoice {
  readonly link: string
}

// Two of a sort may lead to one place.
const choiceOf = (item: FoundItem): Found => ({
  link: item.link,
  value: `${item.sort} ${item.link} ${item.title}`,
  title: item.title,
  content: (
    <>
      <Sort name={sorts[item.sort]} />
      <Span truncate>{readableDates(item.title)}</Span>
      <Span color="muted" textStyle="small">
        {readableDates(item.detail)}
      </Span>
      <Span ml="auto">
        {item.amount === null ? null : (
          <Amount minor={item.amount} {...(item.currency ? { currency: item.currency } : {})} />
        )}
      </Span>
    </>
  ),
})

const choiceOfPage = ({ title, link }: (typeof pages)[number]): Found => ({
  link,
  value: `page ${link}`,
  title,
  content: (
    <>
      <Sort name="page" />
      <Span truncate>{title}</Span>
    </>
  ),
})
