import { Box, Button, Flex, Input, Span, Table, VisuallyHidden } from '@chakra-ui/react'
import type { MissingContact, MissingItem, MissingNames as Names } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { useMay } from '../context/useMay.ts'
import { AccountPicker } from '../ui/AccountPicker.tsx'
import { Whose } from '../ui/Act.tsx'
import { Amount } from '../ui/Amount.tsx'
import { Check } from '../ui/form/Check.tsx'
import { countText } from '../ui/formats.ts'
import { useNotice } from '../ui/Notice.tsx'
import { Select } from '../ui/Select.tsx'
import { missingNamesQuery, useMakeNames } from './mappingQueries.ts'
import { contactChoice, itemChoice, itemKey, type NamesDraft, wantedNames } from './namesDraft.ts'

/** Contacts and items that documents will name, folded away: journals name none, and the page is long enough. */
export const MissingNames = () => {
  const { clientId } = useClient()
  const { data } = useQuery(missingNamesQuery(clientId))
  const [open, setOpen] = useState(false)
  if (!data || data.contacts.length + data.items.length === 0) return null
  return (
    <Box as="section" mt="16px" aria-label="Contacts and items">
      <Flex align="baseline" gap="10px">
        <Button variant="plain" aria-expanded={open} onClick={() => setOpen(!open)}>
          {open ? 'Fold away' : 'Show'} {bothText(data.contacts.length, data.items.length)}
        </Button>
        <Span color="muted">
          that invoices and bills will name. Entries booked as journals need none of them: this can wait.
        </Span>
      </Flex>
      {open ? <NameTable key={data.version} names={data} /> : null}
    </Box>
  )
}

const bothText = (contacts: number, items: number): string =>
  [contacts > 0 ? countText(contacts, 'contact') : '', items > 0 ? countText(items, 'item') : '']
    .filter(Boolean)
    .join(' and ')

interface Editing {
  readonly names: Names
  readonly draft: NamesDraft
  readonly choose: (key: string, part: NonNullable<ReturnType<NamesDraft['get']>>) => void
}

const NameTable = ({ names }: { readonly names: Names }) => {
  const { clientId, base } = useClient()
  const notice = useNotice()
  const may = useMay()
  const href = useHref()
  const make = useMakeNames(clientId)
  const [draft, setDraft] = useState<NamesDraft>(new Map())
  const wanted = wantedNames(names, draft)
  const chosen = wanted.contacts.length + wanted.items.length
  const editing: Editing = {
    ...{ names, draft },
    choose: (key, part) => setDraft(new Map(draft).set(key, { ...draft.get(key), ...part })),
  }
  const all = names.items.every(row => itemChoice(row, draft).taken)
  const takeItems = (taken: boolean) => {
    const next = new Map(draft)
    for (const row of names.items) next.set(itemKey(row), { ...draft.get(itemKey(row)), taken })
    setDraft(next)
  }
  const take = () =>
    make.mutate(wanted, {
      onError: notice.refuse,
      onSuccess: made => notice.say(`${bothText(made.contacts, made.items)} taken.`),
    })
  return (
    <>
      <Box overflowX="auto" mt="6px">
        <Table.Root aria-label="Contacts and items that are missing" bg="sheet" minW="1180px" tableLayout="fixed">
          <Table.Header>
            <Table.Row>
              <Table.ColumnHeader w="36px">
                <VisuallyHidden>Take</VisuallyHidden>
              </Table.ColumnHeader>
              <Table.ColumnHeader w="76px">Stage</Table.ColumnHeader>
              <Table.ColumnHeader w="260px">Missing</Table.ColumnHeader>
              <Table.ColumnHeader w="170px">Which source needs it</Table.ColumnHeader>
              <Table.ColumnHeader textAlign="right" w="96px">
                {base}
              </Table.ColumnHeader>
              <Table.ColumnHeader w="372px">Use what exists, or make</Table.ColumnHeader>
              <Table.ColumnHeader>Why</Table.ColumnHeader>
            </Table.Row>
          </Table.Header>
          <Table.Body>
            {names.contacts.map((row, at) => (
              <ContactLine key={row.key} row={row} first={at === 0} {...editing} />
            ))}
            {names.items.map((row, at) => (
              <ItemLine key={row.sku} row={row} first={at === 0} {...editing} />
            ))}
          </Table.Body>
        </Table.Root>
      </Box>
      <Flex gap="14px" align="center" mt="8px">
        {may('map') ? (
          <Button disabled={chosen === 0 || make.isPending} onClick={take}>
            {chosen > 0 ? `Take ${bothText(wanted.contacts.length, wanted.items.length)}` : 'Choose what to take'}
          </Button>
        ) : (
          <Whose right="map" />
        )}
        {names.items.length > 1 ? (
          <Check checked={all} onChange={takeItems}>
            all items
          </Check>
        ) : null}
        <Span color="muted">
          Posts nothing. An item brings no tax code of its own.
          {names.untold > 0 ? (
            <>
              {' '}
              {countText(names.untold, 'product')} without a SKU or an account stand{names.untold === 1 ? 's' : ''} at{' '}
              <Link to={href('/mapping/items')}>Items</Link>.
            </>
          ) : null}
        </Span>
      </Flex>
    </>
  )
}

const sortText = { customer: 'customer', supplier: 'supplier', both: 'customer and supplier' } as const

const ContactLine = ({
  row,
  first,
  names,
  draft,
  choose,
}: Editing & { readonly row: MissingContact; readonly first: boolean }) => {
  const choice = contactChoice(row, draft)
  const label = `contact ${row.name}`
  return (
    <Table.Row bg={choice.taken ? undefined : 'linen'} borderTopWidth={first ? '2px' : undefined}>
      <Table.Cell>
        <Check label={`Take ${label}`} checked={choice.taken} onChange={taken => choose(row.key, { taken })} />
      </Table.Cell>
      <Table.Cell fontWeight="600">{first ? 'Books' : null}</Table.Cell>
      <Table.Cell fontWeight="600" whiteSpace="normal">
        Contact {row.name}
      </Table.Cell>
      <Table.Cell color="muted" textStyle="small" whiteSpace="normal">
        {row.of === 'rule' ? 'a rule names it' : `${row.name}, as one ${sortText[row.sort]}`}
      </Table.Cell>
      <Table.Cell />
      <Table.Cell py="3px">
        {choice.use === null ? (
          <Input
            aria-label={`Name of ${label}`}
            w="100%"
            value={choice.name}
            onChange={event => choose(row.key, { name: event.target.value })}
          />
        ) : (
          <Select
            aria-label={`Which is ${label}`}
            w="100%"
            value={choice.use}
            onChange={event => choose(row.key, { use: event.target.value, taken: true })}
          >
            {names.known.map(contact => (
              <option key={contact.code} value={contact.code}>
                {contact.name === contact.code ? contact.name : `${contact.name} · ${contact.code}`}
              </option>
            ))}
          </Select>
        )}
      </Table.Cell>
      <Table.Cell color="muted" textStyle="small" whiteSpace="normal">
        {choice.use === null ? (
          row.of === 'source' && names.known.length > 0 ? (
            <Button
              variant="plain"
              textStyle="small"
              onClick={() => choose(row.key, { use: row.use?.code ?? names.known[0]?.code ?? null })}
            >
              use one there is
            </Button>
          ) : (
            'nobody is called so'
          )
        ) : (
          <>
            {row.use?.code === choice.use ? whyText[row.use.why] : 'chosen'} ·{' '}
            <Button variant="plain" textStyle="small" onClick={() => choose(row.key, { use: null })}>
              make one
            </Button>
          </>
        )}
      </Table.Cell>
    </Table.Row>
  )
}

const whyText = {
  same_name: 'bears its name',
  one_of_several: 'one of several of its name: look at it',
  like_it: 'called nearly so: look at it',
} as const

const ItemLine = ({
  row,
  first,
  names,
  draft,
  choose,
}: Editing & { readonly row: MissingItem; readonly first: boolean }) => {
  const choice = itemChoice(row, draft)
  const key = itemKey(row)
  return (
    <Table.Row bg={choice.taken ? undefined : 'linen'} borderTopWidth={first ? '2px' : undefined}>
      <Table.Cell>
        <Check label={`Take item ${row.sku}`} checked={choice.taken} onChange={taken => choose(key, { taken })} />
      </Table.Cell>
      <Table.Cell fontWeight="600">{first ? 'Items' : null}</Table.Cell>
      <Table.Cell fontWeight="600" whiteSpace="normal">
        Item <Span textStyle="mono">{row.sku}</Span>
      </Table.Cell>
      <Table.Cell color="muted" textStyle="small" whiteSpace="normal">
        {row.sources.join(', ')}: {countText(row.lines, 'line')}
      </Table.Cell>
      <Table.Cell textAlign="right">
        <Amount minor={row.amount} />
      </Table.Cell>
      <Table.Cell py="3px">
        <Flex gap="6px">
          <Input
            aria-label={`Name of item ${row.sku}`}
            flex="1"
            value={choice.name}
            onChange={event => choose(key, { name: event.target.value })}
          />
          <Box w="170px">
            <AccountPicker
              label={`Account of item ${row.sku}`}
              kind="sale"
              accounts={names.chart}
              value={choice.account}
              onChange={account => choose(key, { account })}
            />
          </Box>
        </Flex>
      </Table.Cell>
      <Table.Cell color="muted" textStyle="small" whiteSpace="normal">
        {choice.account === row.account ? 'where its sales go today' : 'chosen'}
        {row.otherNames.length > 0 ? `; also sold as ${row.otherNames.slice(0, 2).join(', ')}` : ''}
      </Table.Cell>
    </Table.Row>
  )
}
