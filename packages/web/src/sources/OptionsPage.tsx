import { Box, Button, chakra, Flex, Span } from '@chakra-ui/react'
import { type SourceOptionsBody, type SourceOptionsPage, wantedOptions } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useCallback, useEffect, useState } from 'react'
import { type Control, useWatch } from 'react-hook-form'
import { Link, useNavigate, useParams } from 'react-router'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { useUnderWay } from '../context/JobsContext.tsx'
import { sourcesQuery } from '../context/sharedQueries.ts'
import { Act } from '../ui/Act.tsx'
import { useSchemaForm } from '../ui/form/useSchemaForm.ts'
import { countText } from '../ui/formats.ts'
import { useNotice } from '../ui/Notice.tsx'
import { Page } from '../ui/Page.tsx'
import { saved, Unsaved } from '../ui/Unsaved.tsx'
import { zoneNames, zoneText } from '../ui/zoneNames.ts'
import { BasisDialog } from './BasisDialog.tsx'
import { basisText } from './basisText.ts'
import { AmountOption, ChosenOption, DateOption, DetailOption, TextOption, YesOrNoOption } from './optionFields.tsx'
import { changedOptions } from './optionsDraft.ts'
import { savedOptionsText } from './outcomeText.ts'
import { PersonalData } from './PersonalData.tsx'
import { optionsQuery, useSaveOptions } from './sourceQueries.ts'

/** What a source's lines are booked by, besides the map: saved as a version of it. */
export const OptionsPage = () => {
  const { source = '' } = useParams()
  const { clientId } = useClient()
  const href = useHref()
  const query = useQuery(optionsQuery(clientId, source))
  const { data } = query
  const { data: sources } = useQuery(sourcesQuery(clientId))
  const counting = useUnderWay(clientId, ['count'])
  const name = sources?.sources.find(one => one.source === source)?.name ?? source
  return (
    <Page
      of={query}
      links={
        <>
          <Link to={href('/sources')}>Sources</Link>
          <Link to={href(`/sources/${source}`)}>{name}</Link>
          <Link to={href(`/sources/${source}/options`)} aria-current="page">
            How it is booked
          </Link>
        </>
      }
      title={`How ${name} is booked`}
      facts={<span>What is posted stays as it was posted; what waits is composed anew.</span>}
    >
      {counting ? (
        <chakra.p color="muted">Lines are counted anew. Once that is done the options can be changed again.</chakra.p>
      ) : data ? (
        <OptionsForm page={data} source={source} name={name} />
      ) : null}
      <PersonalData source={source} name={name} />
    </Page>
  )
}

interface FormProps {
  readonly page: SourceOptionsPage
  readonly source: string
  readonly name: string
}

// A draft stays with the state that it was made from, whatever others save meanwhile: then the save is refused, and says so. Where nothing was changed
// yet there is no draft, and the page shows what stands.
const OptionsForm = ({ page: now, source, name }: FormProps) => {
  const { clientId, base } = useClient()
  const href = useHref()
  const navigate = useNavigate()
  const notice = useNotice()
  const save = useSaveOptions(clientId, source)
  const [page, setPage] = useState(now)
  const [asked, setAsked] = useState(false)
  const form = useSchemaForm(wantedOptions, page.options)
  const { control } = form
  const changed = changedOptions(page.options, useWatch({ control }) as Partial<SourceOptionsBody>)
  const fixed = now.posted > 0 ? `${countText(now.posted, 'settlement')} of it posted: take them back first` : ''
  // Fields that hold what is typed begin anew with each state.
  const [begun, setBegun] = useState(0)
  const startAt = useCallback(
    (state: SourceOptionsPage) => {
      setPage(state)
      form.reset(state.options)
      setBegun(count => count + 1)
    },
    [form],
  )
  const isOvertaken = page.version !== now.version && changed.length === 0
  useEffect(() => {
    // What was typed since it was drawn is a change already.
    if (isOvertaken && changedOptions(page.options, form.getValues()).length === 0) startAt(now)
  }, [isOvertaken, now, startAt, form, page.options])
  const store = (wanted: SourceOptionsBody) =>
    save.mutate(
      { version: page.version, options: wanted },
      {
        onError: notice.refuse,
        onSuccess: outcome => {
          setAsked(false)
          if (outcome === null) {
            // The lines are counted by a job, which says itself what it came to. Until the page is left nothing of it is unsaved any more.
            startAt({ ...page, options: wanted })
            void navigate(href(`/sources/${source}`), saved)
            return
          }
          startAt({ ...now, version: outcome.version, options: wanted })
          notice.say(savedOptionsText(outcome))
        },
      },
    )
  const ask = form.handleSubmit(wanted => (changed.some(name => counting.has(name)) ? setAsked(true) : store(wanted)))
  return (
    <Box as="section" aria-label="Options" bg="sheet" borderWidth="1px" borderColor="hairline" maxW="880px">
      <form key={begun} onSubmit={event => void ask(event)}>
        <OptionFields control={control} page={page} base={base} fixed={fixed} />
        <Unsaved changed={changed.length > 0} what={`how ${name} is booked`} />
        <Flex p="12px 16px" gap="12px" align="center">
          <Act right="map" type="submit" variant="solid" disabled={changed.length === 0 || save.isPending}>
            {changed.length > 0 ? `Save ${countText(changed.length, 'option')}` : 'Save'}
          </Act>
          {changed.length > 0 ? (
            <Button variant="plain" onClick={() => startAt(now)}>
              Discard
            </Button>
          ) : null}
          <Span color="muted" textStyle="small">
            {changed.length === 0 ? 'nothing is changed' : ''}
          </Span>
        </Flex>
      </form>
      {asked ? (
        <BasisDialog
          source={source}
          name={name}
          to={form.getValues()}
          busy={save.isPending}
          onClose={() => setAsked(false)}
          onSave={() => void form.handleSubmit(store)()}
        />
      ) : null}
    </Box>
  )
}

/** Options by which the days of stored lines are told: another is shown with what it does before it is saved. */
const counting: ReadonlySet<string> = new Set(['dateBasis', 'cutOff', 'timeZone'])

interface OptionFieldsProps {
  readonly control: Control<SourceOptionsBody>
  readonly page: SourceOptionsPage
  readonly base: string
  /** Why some options cannot be changed; empty: they can. */
  readonly fixed: string
}

const OptionFields = ({ control, page, base, fixed }: OptionFieldsProps) => (
  <>
    <ChosenOption
      control={control}
      name="dateBasis"
      label="The day that counts"
      hint="decides a line's day, month and rates; what has not happened yet waits"
      choices={Object.entries(basisText)}
    />
    <DateOption
      control={control}
      name="bookedFrom"
      label="Booked here from"
      hint="what ended before that day is booked elsewhere, and the opening balances hold it; empty: all is booked here"
    />
    <ChosenOption
      control={control}
      name="timeZone"
      label="Time zone of its days"
      hint="where it stands elsewhere than the client"
      choices={[['', 'the client’s'], ...zoneNames.map(zone => [zone, zoneText(zone)] as const)]}
    />
    <TextOption
      control={control}
      name="cutOff"
      label="Its trading day ends at"
      hint="groups lines without a settlement by day; empty: as the client’s"
      placeholder="e.g. 04:30"
    />
    <YesOrNoOption
      control={control}
      name="splitAtMonthEnd"
      label="An entry for each month"
      hint={fixed || "settlements over a month's end are split there"}
      disabled={fixed !== ''}
    />
    <YesOrNoOption
      control={control}
      name="ancillaryFollows"
      label="Postage is taxed as the goods are"
      hint="so are discounts and charges on a whole order"
    />
    <YesOrNoOption
      control={control}
      name="refundFollows"
      label="A refund without products is taxed as the goods are"
      hint="its tax is split over everything in its order"
    />
    <TextOption
      control={control}
      name="place"
      label="Where it sells"
      hint="the region of lines that have none: the shop’s own place, for a till; empty: no region"
      placeholder="e.g. IE"
    />
    <ChosenOption
      control={control}
      name="taxRounding"
      label="Tax is rounded"
      hint="once for all lines booked alike, or for each line by itself"
      choices={[
        ['bucket', 'once, on the sum'],
        ['line', 'line by line'],
      ]}
    />
    <AmountOption
      control={control}
      name="taxTolerance"
      label="Tax may differ by"
      hint={`in ${base}, per entry and code; more than that blocks; empty: not checked`}
      currency={base}
    />
    <DetailOption control={control} label="Detail in entries" hint="lines of income and cost are told apart by these" />
    <ChosenOption
      control={control}
      name="payoutsLeaveBalance"
      label="A payout leaves the balance"
      hint="as the processor states what it holds"
      choices={[
        ['sent', 'when it is sent'],
        ['arrived', 'when it has arrived'],
      ]}
    />
    <YesOrNoOption
      control={control}
      name="reservesStayOnBalance"
      label="Reserves stay on the balance"
      hint="what is kept back is part of what the processor states"
    />
    <YesOrNoOption
      control={control}
      name="bookPending"
      label="Pending lines are booked at once"
      hint={fixed || 'one that fails later is a correction'}
      disabled={fixed !== ''}
    />
    <ChosenOption
      control={control}
      name="stockPayable"
      label="Stock bought is owed on"
      hint="of a till that records purchases"
      choices={[
        ['', 'no account: such lines are blocked'],
        ...page.payables.map(({ code, name }) => [code, `${code} ${name}`] as const),
      ]}
    />
  </>
)
