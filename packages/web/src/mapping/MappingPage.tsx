import { Box, Button, Flex, Table } from '@chakra-ui/react'
import type { MappingPage as MappingFacts, SeenRow } from '@culvert/contract'
import { kinds } from '@culvert/core'
import { useQuery } from '@tanstack/react-query'
import { useMemo, useState } from 'react'
import { Link, useParams, useSearchParams } from 'react-router'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { RequestRefused } from '../context/request.ts'
import { mappingQuery, sourcesQuery, useMapActs } from '../context/sharedQueries.ts'
import { FootBar } from '../ui/FootBar.tsx'
import { amountText, countText, currencySign, rangeText } from '../ui/formats.ts'
import { useKey } from '../ui/keys.ts'
import { Modal } from '../ui/Modal.tsx'
import { useNotice } from '../ui/Notice.tsx'
import { Page } from '../ui/Page.tsx'
import { Unsaved } from '../ui/Unsaved.tsx'
import { MappingLinks } from './MappingLinks.tsx'
import { RouteRow } from './RouteRow.tsx'
import { editOf, isWhole, keyOf, type RouteEdit, routeOf, targetText } from './routeEdit.ts'

/** The routes of a source: kinds seen in the data, heaviest first, each with its account, tax code and why. */
export const MappingPage = () => {
  const { clientId } = useClient()
  const { source } = useParams()
  const all = useQuery(sourcesQuery(clientId))
  const sources = all.data
  const chosen = source ?? sources?.sources[0]?.source ?? ''
  const query = useQuery(mappingQuery(clientId, chosen))
  const { data } = query
  if (sources && sources.sources.length === 0)
    return (
      <Page links={<MappingLinks here="routes" />} title="Mapping">
        Once a source is connected and pulled, every kind of movement it reports stands here, with the account it goes
        to.
      </Page>
    )
  if (!data) return <Page links={<MappingLinks here="routes" />} title="Mapping" of={all.data ? query : all} />
  return <Routes key={data.source} page={data} />
}

const Routes = ({ page }: { readonly page: MappingFacts }) => {
  const { clientId, locale } = useClient()
  const href = useHref()
  const [search] = useSearchParams()
  const notice = useNotice()
  const { save } = useMapActs(clientId)
  const [edits, setEdits] = useState<ReadonlyMap<string, RouteEdit>>(new Map())
  const [unseenOpen, setUnseenOpen] = useState(false)
  const [question, setQuestion] = useState<string | null>(null)
  const marked = Number(search.get('route'))
  const heaviest = useMemo(() => Math.max(1, ...page.rows.map(row => Math.abs(row.amount))), [page.rows])
  const edit = (row: SeenRow, change: Partial<RouteEdit>): void => {
    const before = edits.get(keyOf(row)) ?? { ...editOf(row), madeFrom: targetText(row) }
    setEdits(new Map(edits).set(keyOf(row), { ...before, ...change }))
  }
  const ready = page.rows.flatMap(row => {
    const one = edits.get(keyOf(row))
    return one && isWhole(row.kind, one) ? [routeOf(row, one, page.source)] : []
  })
  const store = (meant = false): void => {
    if (ready.length === 0 || save.isPending) return
    save.mutate(
      { changed: ready, version: page.version, meant },
      {
        onError: error => {
          const asked = error instanceof RequestRefused && error.problem.ask !== undefined
          if (asked) setQuestion(error.message)
          else notice.refuse(error)
        },
        onSuccess: saved => {
          setEdits(new Map())
          setQuestion(null)
          const warned = saved.warnings.filter(warning => ready.some(route => route.account === warning.account))
          notice.say(
            `Saved as version ${saved.version} of the map. ${countText(saved.unblocked, 'settlement')} no longer blocked.${
              warned.length > 0
                ? ` Unusual: ${warned.map(one => `${one.account} is of type ${one.type.replace('_', ' ')}`).join(', ')}.`
                : ''
            }`,
          )
        },
      },
    )
  }
  useKey('ctrl+s', 'save', () => store())
  const unmapped = page.rows.filter(row => row.unmapped)
  return (
    <Page
      links={<MappingLinks here="routes" />}
      title={page.sourceName}
      facts={
        <span>
          {countText(page.rows.length, 'kind and category seen', 'kinds and categories seen')} ·{' '}
          {page.rows.length - unmapped.length} routed · 13 weeks, {rangeText(page.from, page.to)}
        </span>
      }
      actions={
        unmapped.length > 0 ? (
          <Button asChild>
            <Link to={href(`/mapping/${page.source}/starter`)}>Propose routes for {unmapped.length}</Link>
          </Button>
        ) : null
      }
    >
      <Table.Root aria-label={`Routes of ${page.sourceName}`} style={{ tableLayout: 'fixed' }}>
        <Table.Header>
          <Table.Row>
            <Table.ColumnHeader style={{ width: 250 }}>What {page.sourceName} reports</Table.ColumnHeader>
            <Table.ColumnHeader textAlign="end" style={{ width: 172 }}>
              13 weeks, {page.currency}
            </Table.ColumnHeader>
            <Table.ColumnHeader style={{ width: 274 }}>Goes to</Table.ColumnHeader>
            <Table.ColumnHeader style={{ width: 110 }}>Tax</Table.ColumnHeader>
            <Table.ColumnHeader>Why, and a line of it</Table.ColumnHeader>
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {page.rows.map(row => (
            <RouteRow
              key={keyOf(row)}
              row={row}
              page={page}
              edited={edits.get(keyOf(row))}
              marked={row.route?.routeId === marked}
              heaviest={heaviest}
              onEdit={change => edit(row, change)}
            />
          ))}
          <Table.Row>
            <Table.Cell colSpan={5}>
              <Button variant="ghost" aria-expanded={unseenOpen} onClick={() => setUnseenOpen(!unseenOpen)}>
                <span aria-hidden="true">{unseenOpen ? '▾' : '▸'} </span>
                {countText(page.unseen.length, 'kind')} that {page.sourceName} has not reported
              </Button>
            </Table.Cell>
          </Table.Row>
          {unseenOpen
            ? page.unseen.map(kind => (
                <Table.Row key={kind}>
                  <Table.Cell color="muted">{kinds[kind].label}</Table.Cell>
                  <Table.Cell colSpan={4} color="muted" textStyle="small" data-words="">
                    {kinds[kind].meaning}
                  </Table.Cell>
                </Table.Row>
              ))
            : null}
        </Table.Body>
      </Table.Root>
      <Modal
        open={question !== null}
        title="Money of one source into the account of another"
        onClose={() => setQuestion(null)}
        foot={
          <>
            <Button onClick={() => setQuestion(null)}>Not meant</Button>
            <Button variant="solid" disabled={save.isPending} onClick={() => store(true)}>
              It is meant: save
            </Button>
          </>
        }
      >
        {question}
      </Modal>
      <Unsaved changed={edits.size > 0} what={countText(edits.size, 'route')} />
      <FootBar>
        <Button variant="solid" disabled={ready.length === 0 || save.isPending} onClick={() => store()}>
          Save {countText(ready.length, 'route')}
        </Button>
        {edits.size > 0 ? <Button onClick={() => setEdits(new Map())}>Discard</Button> : null}
        <Flex color="muted" flex="1" gap="6px">
          {page.waiting.settlements > 0 ? (
            <Box>
              {countText(page.waiting.settlements, 'settlement')} blocked, {currencySign(page.currency)}{' '}
              {amountText(page.waiting.amount, page.currency, locale)} gross. Saving composes anew what is not posted;
              what is posted stays as it is.
            </Box>
          ) : (
            <Box>
              Nothing of {page.sourceName} is blocked. Saving composes anew what is not posted; what is posted stays as
              it is.
            </Box>
          )}
        </Flex>
      </FootBar>
    </Page>
  )
}
