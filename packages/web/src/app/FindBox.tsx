import { Box, Kbd, Span } from '@chakra-ui/react'
import type { FoundItem } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { Command } from 'cmdk'
import { useRef, useState } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import { useNavigate } from 'react-router'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { startOfLink } from '../context/startOfLink.ts'
import { useTrace } from '../context/TraceContext.tsx'
import { Amount } from '../ui/Amount.tsx'
import { Choice, ChoiceInput, ChoiceList } from '../ui/choices.tsx'
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
    input.current?.blur()
    const start = startOfLink(link.replace(/^trace:/, ''))
    if (start) trace.open(start)
    else void navigate(href(link))
  }
  const found = text.trim() === '' ? [] : (data?.items ?? [])
  const pagesShown = pages.filter(page => page.title.toLowerCase().includes(text.trim().toLowerCase()))
  return (
    <Box position="relative" w="368px" maxW="100%">
      <Command
        shouldFilter={false}
        label="Find"
        onKeyDown={event => {
          if (event.key === 'Escape') {
            setOpen(false)
            input.current?.blur()
          }
        }}
      >
        <ChoiceInput
          ref={input}
          value={text}
          placeholder="Amount, number, name or page"
          fontSize="13px"
          aria-label="Find"
          onValueChange={value => {
            setText(value)
            setOpen(true)
          }}
          onFocus={event => {
            // What was looked for before is written over by the next.
            event.currentTarget.select()
            setOpen(true)
          }}
          onBlur={() => setTimeout(() => setOpen(false), 150)}
        />
        <Box position="absolute" right="6px" top="4px" pointerEvents="none">
          <Kbd>Ctrl K</Kbd>
        </Box>
        <ChoiceList w="560px" maxH="420px" top="31px" zIndex="30" display={open ? 'block' : 'none'}>
          {open ? (
            <>
              {text.trim() !== '' && found.length === 0 && pagesShown.length === 0 ? (
                <Command.Empty>Nothing found for “{text}”.</Command.Empty>
              ) : null}
              {found.map(item => (
                <Choice
                  key={`${item.sort} ${item.link} ${item.title}`}
                  value={`${item.sort} ${item.link} ${item.title}`}
                  onSelect={() => go(item.link)}
                >
                  <Span color="muted" textStyle="small" w="84px" flexShrink={0}>
                    {sorts[item.sort]}
                  </Span>
                  <Span truncate>{readableDates(item.title)}</Span>
                  <Span color="muted" textStyle="small">
                    {readableDates(item.detail)}
                  </Span>
                  <Span ml="auto">
                    {item.amount === null ? null : (
                      <Amount minor={item.amount} {...(item.currency ? { currency: item.currency } : {})} />
                    )}
                  </Span>
                </Choice>
              ))}
              {pagesShown.map(page => (
                <Choice key={page.link} value={`page ${page.link}`} onSelect={() => go(page.link)}>
                  <Span color="muted" textStyle="small" w="84px" flexShrink={0}>
                    page
                  </Span>
                  <Span truncate>{page.title}</Span>
                </Choice>
              ))}
            </>
          ) : null}
        </ChoiceList>
      </Command>
    </Box>
  )
}
