import { Box, Button, chakra, Flex, Input, Span } from '@chakra-ui/react'
import type { SourceOptionsBody, SourceOptionsPage } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { type ReactNode, useState } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { useUnderWay } from '../context/JobsContext.tsx'
import { sourcesQuery } from '../context/sharedQueries.ts'
import { Check } from '../ui/form/Check.tsx'
import { countText } from '../ui/formats.ts'
import { useNotice } from '../ui/Notice.tsx'
import { Page } from '../ui/Page.tsx'
import { Select } from '../ui/Select.tsx'
import { saved, Unsaved } from '../ui/Unsaved.tsx'
import { BasisDialog } from './BasisDialog.tsx'
import { basisText } from './basisText.ts'
import { changedOptions, draftOf, type OptionsDraft, optionsIn, toggled } from './optionsDraft.ts'
import { savedOptionsText } from './outcomeText.ts'
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
    </Page>
  )
}

const details = ['category', 'sku', 'location'] as const
const detailText = { category: 'category', sku: 'SKU', location: 'location' }

interface FormProps {
  readonly page: SourceOptionsPage
  readonly source: string
  readonly name: string
}

// A draft stays with the state that it was made from, whatever others save meanwhile: then the save is refused, and says so. Where nothing was changed
// yet there is no draft, and the page shows what stands.
const OptionsForm = ({ page: now, source, name }: FormProps) => {
  const { clientId, base, locale } = useClient()
  const href = useHref()
  const navigate = useNavigate()
  const notice = useNotice()
  const save = useSaveOptions(clientId, source)
  const [page, setPage] = useState(now)
  const [draft, setDraft] = useState<OptionsDraft>(() => draftOf(page.options, base, locale))
  const [asked, setAsked] = useState(false)
  const set = (change: Partial<OptionsDraft>) => setDraft(before => ({ ...before, ...change }))
  const options = optionsIn(draft, base, locale)
  const changed = options === null ? [] : changedOptions(page.options, options)
  const fixed = now.posted > 0 ? `${countText(now.posted, 'settlement')} of it posted: take them back first` : ''
  const startAt = (state: SourceOptionsPage) => {
    setPage(state)
    setDraft(draftOf(state.options, base, locale))
  }
  if (page.version !== now.version && options !== null && changed.length === 0) startAt(now)
  const missing = options === null ? 'the tolerance is no amount' : changed.length === 0 ? 'nothing is changed' : null
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
  return (
    <Box as="section" aria-label="Options" bg="sheet" borderWidth="1px" borderColor="hairline" maxW="880px">
      <Option label="The day that counts" hint="decides a line's day, month and rates; what has not happened yet waits">
        <Select
          aria-label="The day that counts"
          w="260px"
          value={draft.dateBasis}
          onChange={event => set({ dateBasis: event.target.value as OptionsDraft['dateBasis'] })}
        >
          {Object.entries(basisText).map(([basis, text]) => (
            <option key={basis} value={basis}>
              {text}
            </option>
          ))}
        </Select>
      </Option>
      <YesOrNo
        label="An entry for each month"
        hint={fixed || "settlements over a month's end are split there"}
        disabled={fixed !== ''}
        checked={draft.splitAtMonthEnd}
        onChange={splitAtMonthEnd => set({ splitAtMonthEnd })}
      />
      <YesOrNo
        label="Postage is taxed as the goods are"
        hint="so are discounts and charges on a whole order"
        checked={draft.ancillaryFollows}
        onChange={ancillaryFollows => set({ ancillaryFollows })}
      />
      <Option label="Tax is rounded" hint="once for all lines booked alike, or for each line by itself">
        <Select
          aria-label="Tax is rounded"
          w="260px"
          value={draft.taxRounding}
          onChange={event => set({ taxRounding: event.target.value as OptionsDraft['taxRounding'] })}
        >
          <option value="bucket">once, on the sum</option>
          <option value="line">line by line</option>
        </Select>
      </Option>
      <Option
        label="Tax may differ by"
        hint={`in ${base}, per entry and code; more than that blocks; empty: not checked`}
      >
        <Input
          aria-label="Tax may differ by"
          w="120px"
          textAlign="right"
          inputMode="decimal"
          value={draft.taxTolerance}
          aria-invalid={options === null || undefined}
          borderColor={options === null ? 'crimson' : undefined}
          onChange={event => set({ taxTolerance: event.target.value })}
        />
      </Option>
      <Option label="Detail in entries" hint="lines of income and cost are told apart by these">
        <Flex gap="16px">
          {details.map(detail => (
            <Check
              key={detail}
              checked={draft.detail.includes(detail)}
              onChange={() => set({ detail: toggled(details, draft.detail, detail) })}
            >
              {detailText[detail]}
            </Check>
          ))}
        </Flex>
      </Option>
      <Option label="A payout leaves the balance" hint="as the processor states what it holds">
        <Select
          aria-label="A payout leaves the balance"
          w="260px"
          value={draft.payoutsLeaveBalance}
          onChange={event => set({ payoutsLeaveBalance: event.target.value as OptionsDraft['payoutsLeaveBalance'] })}
        >
          <option value="sent">when it is sent</option>
          <option value="arrived">when it has arrived</option>
        </Select>
      </Option>
      <YesOrNo
        label="Reserves stay on the balance"
        hint="what is kept back is part of what the processor states"
        checked={draft.reservesStayOnBalance}
        onChange={reservesStayOnBalance => set({ reservesStayOnBalance })}
      />
      <YesOrNo
        label="Pending lines are booked at once"
        hint={fixed || 'one that fails later is a correction'}
        disabled={fixed !== ''}
        checked={draft.bookPending}
        onChange={bookPending => set({ bookPending })}
      />
      <Option label="Stock bought is owed on" hint="of a till that records purchases">
        <Select
          aria-label="Stock bought is owed on"
          w="260px"
          value={draft.stockPayable ?? ''}
          onChange={event => set({ stockPayable: event.target.value || null })}
        >
          <option value="">no account: such lines are blocked</option>
          {page.payables.map(account => (
            <option key={account.code} value={account.code}>
              {account.code} {account.name}
            </option>
          ))}
        </Select>
      </Option>
      <Unsaved changed={changed.length > 0 || options === null} what={`how ${name} is booked`} />
      <Flex p="12px 16px" gap="12px" align="center">
        <Button
          variant="solid"
          disabled={missing !== null || save.isPending}
          onClick={() => {
            if (options === null) return
            if (changed.includes('dateBasis')) setAsked(true)
            else store(options)
          }}
        >
          {changed.length > 0 ? `Save ${countText(changed.length, 'option')}` : 'Save'}
        </Button>
        {changed.length > 0 ? (
          <Button variant="plain" onClick={() => startAt(now)}>
            Discard
          </Button>
        ) : null}
        <Span color="muted" textStyle="small">
          {missing ?? ''}
        </Span>
      </Flex>
      {asked && options ? (
        <BasisDialog
          source={source}
          name={name}
          from={page.options.dateBasis}
          to={options.dateBasis}
          busy={save.isPending}
          onClose={() => setAsked(false)}
          onSave={() => store(options)}
        />
      ) : null}
    </Box>
  )
}

const Option = ({ label, hint, children }: { label: string; hint: string; children: ReactNode }) => (
  <Flex px="16px" minH="44px" py="6px" gap="16px" align="center" borderBottomWidth="1px" borderColor="hairline">
    <Box w="230px" fontWeight="500" flexShrink={0}>
      {label}
    </Box>
    <Box w="270px" flexShrink={0}>
      {children}
    </Box>
    <Span color="muted" textStyle="small">
      {hint}
    </Span>
  </Flex>
)

interface YesOrNoProps {
  readonly label: string
  readonly hint: string
  readonly disabled?: boolean
  readonly checked: boolean
  readonly onChange: (checked: boolean) => void
}

const YesOrNo = ({ label, hint, disabled = false, checked, onChange }: YesOrNoProps) => (
  <Option label={label} hint={hint}>
    <Check label={label} disabled={disabled} checked={checked} onChange={onChange}>
      {checked ? 'yes' : 'no'}
    </Check>
  </Option>
)
