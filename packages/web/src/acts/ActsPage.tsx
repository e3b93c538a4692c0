import { Box, Button, Flex, Span } from '@chakra-ui/react'
import type { ActList, ActRow } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useSearchParams } from 'react-router'
import { useClient } from '../context/ClientContext.tsx'
import { useMay } from '../context/useMay.ts'
import { AskDialog } from '../ui/AskDialog.tsx'
import { DateInput } from '../ui/DateInput.tsx'
import { countText, momentText, zoneText } from '../ui/formats.ts'
import { Page } from '../ui/Page.tsx'
import { Select } from '../ui/Select.tsx'
import type { SheetColumn } from '../ui/sheet/column.ts'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'
import { ActDialog } from './ActDialog.tsx'
import { ActObjects } from './ActObjects.tsx'
import { actsQuery } from './actQueries.ts'
import { actText, personText } from './actWords.ts'
import { Seals } from './Seals.tsx'
import { wayBackOf } from './takeBackActs.ts'
import { type ToTakeBack, useTakeBack } from './useTakeBack.ts'

/** Acts asked for at first, and with each press for more. */
const step = 200
const most = 1000

/** Who did what: by person, by what was done, by day; what can be is taken back from here, whole batches too. */
export const ActsPage = () => {
  const { clientId, timeZone } = useClient()
  const [search, setSearch] = useSearchParams()
  const [limit, setLimit] = useState(step)
  const [opened, setOpened] = useState<ActRow | null>(null)
  const asked = {
    by: search.get('by'),
    sort: search.get('act'),
    from: search.get('since'),
    to: search.get('until'),
  }
  const query = useQuery(actsQuery(clientId, { ...asked, limit }))
  const { data } = query
  const choose = (name: string, value: string): void => {
    setSearch(before => {
      const next = new URLSearchParams(before)
      if (value === '') next.delete(name)
      else next.set(name, value)
      return next
    })
  }
  const columns: readonly SheetColumn<ActRow>[] = [
    {
      id: 'at',
      head: `When, ${zoneText(timeZone)}`,
      width: '160px',
      top: true,
      value: one => one.at,
      cell: one => momentText(one.at, timeZone),
    },
    { id: 'by', head: 'Who', width: '150px', top: true, value: personText, cell: personText },
    {
      id: 'sort',
      head: 'What',
      width: '190px',
      top: true,
      wraps: true,
      value: one => actText(one.sort),
      cell: one => <Span fontWeight="600">{actText(one.sort)}</Span>,
    },
    {
      id: 'objects',
      head: 'To what, from what to what',
      wraps: true,
      top: true,
      cell: one => <ActObjects objects={one.objects} count={one.count} />,
    },
    { id: 'note', head: 'Note', width: '200px', wraps: true, top: true, value: one => one.note, cell: one => one.note },
    {
      id: 'seq',
      head: 'Seal',
      width: '60px',
      right: true,
      top: true,
      value: one => one.seq,
      cell: one => one.seq ?? <Span color="muted">none</Span>,
    },
  ]
  return (
    <Page
      of={query}
      title="Who did what"
      facts={data ? <span>{countText(data.count, 'act')}</span> : null}
      actions={<TakeBackShown acts={data?.acts ?? []} count={data?.count ?? 0} />}
    >
      <Chosen asked={asked} data={data} onChoose={choose} />
      <SheetTable
        label="Acts"
        columns={columns}
        rows={data?.acts ?? []}
        rowKey={one => one.actId}
        onOpen={setOpened}
        arranged
        empty="Nothing was done that is asked for here."
      />
      {data && data.count > data.acts.length && limit < most ? (
        <Button mt="10px" onClick={() => setLimit(Math.min(most, limit + step))}>
          Show more, of {data.count.toLocaleString('en-IE')}
        </Button>
      ) : null}
      <Seals />
      {opened ? <ActDialog act={opened} onClose={() => setOpened(null)} /> : null}
    </Page>
  )
}

interface ChosenProps {
  readonly asked: {
    readonly by: string | null
    readonly sort: string | null
    readonly from: string | null
    readonly to: string | null
  }
  readonly data: ActList | undefined
  readonly onChoose: (name: string, value: string) => void
}

const Chosen = ({ asked, data, onChoose }: ChosenProps) => (
  <Flex gap="10px" wrap="wrap" align="center" mb="10px">
    <Select aria-label="Who" w="190px" value={asked.by ?? ''} onChange={event => onChoose('by', event.target.value)}>
      <option value="">Everybody</option>
      {data?.people.map(one => (
        <option key={one.id} value={one.id}>
          {personText({ by: one })}
        </option>
      ))}
    </Select>
    <Select
      aria-label="What"
      w="230px"
      value={asked.sort ?? ''}
      onChange={event => onChoose('act', event.target.value)}
    >
      <option value="">Everything</option>
      {data?.sorts.map(sort => (
        <option key={sort} value={sort}>
          {actText(sort)}
        </option>
      ))}
    </Select>
    <Span color="muted">from</Span>
    <DateInput aria-label="From day" w="150px" value={asked.from ?? ''} onChange={value => onChoose('since', value)} />
    <Span color="muted">to</Span>
    <DateInput aria-label="To day" w="150px" value={asked.to ?? ''} onChange={value => onChoose('until', value)} />
  </Flex>
)

/** Takes back all that is asked for, where it is of one sort that can be: the 46 posted by one person on one day. */
const TakeBackShown = ({ acts, count }: { readonly acts: readonly ActRow[]; readonly count: number }) => {
  const may = useMay()
  const { gather, run } = useTakeBack()
  const [ready, setReady] = useState<ToTakeBack | null>(null)
  const [first] = acts
  const way = first && acts.every(act => act.sort === first.sort) ? wayBackOf(first.sort) : null
  if (!first || !way || acts.length < 2 || acts.length < count || acts.length > 100 || !may(way.right)) return null
  return (
    <>
      <Button disabled={gather.isPending || run.isPending} onClick={() => gather.mutate(acts, { onSuccess: setReady })}>
        Take back these {acts.length} acts
      </Button>
      <AskDialog
        open={ready !== null}
        title={`Take back ${way.what(ready?.keys.length ?? 0)}?`}
        act="Take back"
        onClose={() => setReady(null)}
        onAct={() => ready && run.mutate(ready)}
      >
        <Box>
          What {acts.length} acts {actText(first.sort)} is taken back as far as it still stands. Nothing is deleted: it
          is reversed or taken apart, and written down as an act of yours.
        </Box>
      </AskDialog>
    </>
  )
}
