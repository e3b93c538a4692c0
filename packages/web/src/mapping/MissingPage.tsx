import { Box, Button, Span, Table, VisuallyHidden } from '@chakra-ui/react'
import type { MissingPage as Missing } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useClient } from '../context/ClientContext.tsx'
import { missingQuery } from '../context/sharedQueries.ts'
import { useMay } from '../context/useMay.ts'
import { Whose } from '../ui/Act.tsx'
import { FootBar } from '../ui/FootBar.tsx'
import { countText, dateText } from '../ui/formats.ts'
import { useNotice } from '../ui/Notice.tsx'
import { Page } from '../ui/Page.tsx'
import { saveText } from '../ui/saveText.ts'
import { MappingLinks } from './MappingLinks.tsx'
import { MissingNames } from './MissingNames.tsx'
import { MissingQuestions, unfitCount } from './MissingQuestions.tsx'
import { AccountRow, OwnRow, TaxRow } from './MissingRows.tsx'
import { useMakeMissing } from './mappingQueries.ts'
import { missingCsv } from './missingCsv.ts'
import { countsOf, emptyDraft, type MissingEditing, wantedOf } from './missingDraft.ts'

/** What booking lacks for what the sources reported: computed, each with what would serve and why, changed in place, made in one act. */
export const MissingPage = () => {
  const { clientId } = useClient()
  const query = useQuery(missingQuery(clientId))
  const { data } = query
  return data ? (
    <Rows key={data.version} page={data} />
  ) : (
    <Page links={<MappingLinks here="missing" />} title="What is missing" of={query} />
  )
}

const Rows = ({ page }: { readonly page: Missing }) => {
  const { clientId } = useClient()
  const notice = useNotice()
  const may = useMay()
  const make = useMakeMissing(clientId)
  const [draft, setDraft] = useState(emptyDraft)
  const wanted = wantedOf(page, draft)
  const counts = countsOf(wanted)
  const things =
    page.banks.length + page.clearings.length + (page.rounding ? 1 : 0) + page.accounts.length + page.taxes.length
  const open =
    things - counts.all + page.feeTaxes.filter(({ key }) => !draft.feeTaxes.has(key)).length + unfitCount(page)
  const editing: MissingEditing = {
    page,
    draft,
    choose: (key, part) =>
      setDraft({ ...draft, rows: new Map(draft.rows).set(key, { ...draft.rows.get(key), ...part }) }),
    say: (key, code) => {
      const feeTaxes = new Map(draft.feeTaxes)
      if (code === undefined) feeTaxes.delete(key)
      else feeTaxes.set(key, code)
      setDraft({ ...draft, feeTaxes })
    },
  }
  const take = () =>
    make.mutate(wanted, {
      onError: notice.refuse,
      onSuccess: made =>
        notice.say(
          `Made ${countText(made.accounts, 'account')}, ${countText(made.taxCodes, 'tax code')} and ${countText(made.routes, 'route')}. ${countText(made.unblocked, 'settlement')} no longer blocked.`,
        ),
    })
  return (
    <Page
      links={<MappingLinks here="missing" />}
      title="What is missing"
      actions={
        things > 0 ? (
          <Button onClick={() => saveText({ name: 'missing.csv', text: missingCsv(page, draft), type: 'text/csv' })}>
            Save as CSV
          </Button>
        ) : null
      }
      facts={
        page.from === null ? null : (
          <span>
            {countText(things, 'thing')} · money of 13 weeks, {dateText(page.from)} to {dateText(page.to)}
          </span>
        )
      }
    >
      {things + page.feeTaxes.length + unfitCount(page) === 0 ? (
        <Box color="muted" bg="sheet" borderWidth="1px" borderColor="hairline" px="14px" py="12px">
          {page.from === null
            ? 'Here stands what booking lacks, once a source has reported something. Connect one, or bring in a file, at Sources.'
            : 'Nothing is missing: all that the sources reported in these 13 weeks has its account and its tax.'}
        </Box>
      ) : (
        <>
          <Box overflowX="auto" hidden={things === 0}>
            <Table.Root aria-label="What is missing" bg="sheet" minW="1180px" tableLayout="fixed">
              <Table.Header>
                <Table.Row>
                  <Table.ColumnHeader w="36px">
                    <VisuallyHidden>Take</VisuallyHidden>
                  </Table.ColumnHeader>
                  <Table.ColumnHeader w="76px">Stage</Table.ColumnHeader>
                  <Table.ColumnHeader w="200px">Missing</Table.ColumnHeader>
                  <Table.ColumnHeader w="230px">Which source needs it</Table.ColumnHeader>
                  <Table.ColumnHeader textAlign="right" w="96px">
                    {page.base}
                  </Table.ColumnHeader>
                  <Table.ColumnHeader w="372px">Use what exists, or make: number, name, type</Table.ColumnHeader>
                  <Table.ColumnHeader>Why</Table.ColumnHeader>
                </Table.Row>
              </Table.Header>
              <Table.Body>
                {page.banks.map((row, at) => (
                  <OwnRow key={row.key} sort="bank" row={row} first={at === 0} {...editing} />
                ))}
                {page.clearings.map((row, at) => (
                  <OwnRow key={row.key} sort="clearing" row={row} first={at === 0} {...editing} />
                ))}
                {page.rounding ? <OwnRow sort="rounding" row={page.rounding} first {...editing} /> : null}
                {page.accounts.map((row, at) => (
                  <AccountRow key={row.key} row={row} first={at === 0} {...editing} />
                ))}
                {page.taxes.map((row, at) => (
                  <TaxRow key={row.key} row={row} first={at === 0} {...editing} />
                ))}
              </Table.Body>
            </Table.Root>
          </Box>
          <MissingQuestions {...editing} />
          {page.taxByRows ? null : (
            <Box mt="10px" color="muted">
              Here routes decide the tax of sales, not the grid: it is said at each source’s starter map.
            </Box>
          )}
        </>
      )}
      {page.from === null ? null : <MissingNames />}
      {things + page.feeTaxes.length > 0 ? (
        <FootBar>
          {may('map') ? (
            <Button variant="solid" disabled={counts.all === 0 || make.isPending} onClick={take}>
              {actText(counts)}
            </Button>
          ) : (
            <Whose right="map" />
          )}
          <Span color="muted">
            {counts.accounts + counts.taxCodes > 0 && counts.used > 0 ? `Also uses ${counts.used} that exist. ` : ''}
            Posts nothing; what is made can be changed until something is booked to it.
            {open > 0 ? ` ${countText(open, 'thing stays', 'things stay')} open.` : ''}
          </Span>
        </FootBar>
      ) : null}
    </Page>
  )
}

const actText = ({ accounts, taxCodes, used, all }: ReturnType<typeof countsOf>): string => {
  if (all === 0) return 'Choose what to make'
  if (accounts + taxCodes === 0) return `Use ${countText(used, 'that exists', 'that exist')}`
  return `Make ${[accounts > 0 ? countText(accounts, 'account') : '', taxCodes > 0 ? countText(taxCodes, 'tax code') : ''].filter(Boolean).join(', ')}`
}
