import { Box, Button, Flex, Span } from '@chakra-ui/react'
import type { MappingPage as MappingFacts, SeenRow, SourceRow } from '@culvert/contract'
import { type Kind, kinds } from '@culvert/core'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link, useNavigate, useParams, useSearchParams } from 'react-router'
import type { About } from '../context/AboutContext.tsx'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { RequestRefused } from '../context/request.ts'
import { mappingQuery, sourcesQuery, useMapActs } from '../context/sharedQueries.ts'
import { Act } from '../ui/Act.tsx'
import { FootBar } from '../ui/FootBar.tsx'
import { amountText, countText, currencySign, rangeText } from '../ui/formats.ts'
import { useKey } from '../ui/keys.ts'
import { Modal } from '../ui/Modal.tsx'
import { useNotice } from '../ui/Notice.tsx'
import { Page } from '../ui/Page.tsx'
import { Select } from '../ui/Select.tsx'
import type { SheetColumn } from '../ui/sheet/column.ts'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'
import { Unsaved } from '../ui/Unsaved.tsx'
import { kindText } from '../ui/words.ts'
import { MappingLinks } from './MappingLinks.tsx'
import { routeColumns } from './routeColumns.tsx'
import { editOf, isWhole, keyOf, type RouteEdit, routeOf, targetText } from './routeEdit.ts'

/** The routes of a source: kinds seen in the data, heaviest first, each with its account, tax code and why. */
export const MappingPage = () => {
  const { clientId } = useClient()
  const { source } = useParams()
  const all = useQuery(sourcesQuery(clientId))
  const sources = all.data
  const [heaviest] = [...(sources?.sources ?? [])].sort((left, right) => right.lines - left.lines)
  const chosen = source ?? heaviest?.source ?? ''
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
  return <Routes key={data.source} page={data} sources={sources?.sources ?? []} />
}

const Routes = ({ page, sources }: { readonly page: MappingFacts; readonly sources: readonly SourceRow[] }) => {
  const { clientId, locale } = useClient()
  const href = useHref()
  const [search] = useSearchParams()
  const navigate = useNavigate()
  const notice = useNotice()
  const { save } = useMapActs(clientId)
  const [edits, setEdits] = useState<ReadonlyMap<string, RouteEdit>>(new Map())
  const [question, setQuestion] = useState<string | null>(null)
  const marked = Number(search.get('route'))
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
  const columns = routeColumns({ page, editedOf: row => edits.get(keyOf(row)), onEdit: edit })
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
        <>
          {sources.length > 1 ? (
            <Select
              aria-label="Source"
              value={page.source}
              onChange={event => void navigate(href(`/mapping/${event.target.value}`))}
            >
              {sources.map(one => (
                <option key={one.source} value={one.source}>
                  {one.name}
                </option>
              ))}
            </Select>
          ) : null}
          {unmapped.length > 0 ? (
            <Button asChild>
              <Link to={href(`/mapping/${page.source}/starter`)}>Propose routes for {unmapped.length}</Link>
            </Button>
          ) : null}
        </>
      }
    >
      <SheetTable
        label={`Routes of ${page.sourceName}`}
        fixed
        columns={columns}
        rows={page.rows}
        rowKey={keyOf}
        aboutOf={aboutRoute}
        tone={row => (edits.has(keyOf(row)) ? 'selected' : row.unmapped ? 'waiting' : toneIfMarked(row, marked))}
      />
      <Unseen page={page} />
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
        <Act right="map" variant="solid" disabled={ready.length === 0 || save.isPending} onClick={() => store()}>
          Save {countText(ready.length, 'route')}
        </Act>
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

// What has no route has nothing that acts could touch.
const aboutRoute = ({ kind, category, route }: SeenRow): About | null =>
  route?.routeId
    ? {
        subject: 'route',
        key: String(route.routeId),
        title: `route of ${kindText(kind, category)}`,
        link: '/mapping',
      }
    : null

const toneIfMarked = (row: SeenRow, marked: number) => (row.route?.routeId === marked ? 'active' : undefined)

const unseenColumns: readonly SheetColumn<Kind>[] = [
  {
    id: 'kind',
    head: 'Kind',
    width: '250px',
    cell: kind => <Span color="muted">{kinds[kind].label}</Span>,
    value: kind => kinds[kind].label,
  },
  {
    id: 'meaning',
    head: 'What it is',
    words: true,
    cell: kind => (
      <Span color="muted" textStyle="small">
        {kinds[kind].meaning}
      </Span>
    ),
    value: kind => kinds[kind].meaning,
  },
]

/** Kinds that the source has not reported, folded away. */
const Unseen = ({ page }: { readonly page: MappingFacts }) => {
  const [open, setOpen] = useState(false)
  return (
    <Box mt="8px">
      <Button variant="ghost" mb="6px" aria-expanded={open} onClick={() => setOpen(!open)}>
        <span aria-hidden="true">{open ? '▾' : '▸'} </span>
        {countText(page.unseen.length, 'kind')} that {page.sourceName} has not reported
      </Button>
      {open ? (
        <SheetTable
          scope="unseen-"
          label={`Kinds that ${page.sourceName} has not reported`}
          columns={unseenColumns}
          rows={page.unseen}
          rowKey={kind => kind}
        />
      ) : null}
    </Box>
  )
}
