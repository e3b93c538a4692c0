import { Box, Button, chakra, Flex, Span } from '@chakra-ui/react'
import type { TaxCodeRow, TaxGridPage as TaxGridFacts } from '@culvert/contract'
import { type GridCell, type GridLine, proposeCode, taxGrid } from '@culvert/core'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { Act } from '../ui/Act.tsx'
import { DateInput } from '../ui/DateInput.tsx'
import { FootBar } from '../ui/FootBar.tsx'
import { amountText, countText, currencySign, dateText, rangeText } from '../ui/formats.ts'
import { useKey } from '../ui/keys.ts'
import { Page } from '../ui/Page.tsx'
import { Select } from '../ui/Select.tsx'
import { Unsaved } from '../ui/Unsaved.tsx'
import { blankTaxCode } from './blankTaxCode.ts'
import { ClassTable } from './ClassTable.tsx'
import { DoubtTable } from './DoubtTable.tsx'
import { GridLines, type GridLinesOf } from './GridLines.tsx'
import { MappingLinks } from './MappingLinks.tsx'
import { taxGridQuery } from './mappingQueries.ts'
import { TaxCellBar } from './TaxCellBar.tsx'
import { TaxCodeDialog } from './TaxCodeDialog.tsx'
import { proposalWords, TaxGridTable } from './TaxGridTable.tsx'
import { regionText } from './taxPlaceText.ts'
import { type CellAt, useTaxDraft } from './useTaxDraft.ts'

/** Which tax supplies bear: by where they go, what they are and when. */
export const TaxGridPage = () => {
  const { clientId } = useClient()
  const query = useQuery(taxGridQuery(clientId))
  const { data } = query
  return data ? (
    <Grid page={data} />
  ) : (
    <Page links={<MappingLinks here="tax" />} title="Tax by destination" of={query} />
  )
}

/** The country that most codes are of. */
const homeOf = (codes: readonly TaxCodeRow[]): string | null => {
  const counts = new Map<string, number>()
  for (const { country } of codes) if (country) counts.set(country, (counts.get(country) ?? 0) + 1)
  return [...counts].sort(([, left], [, right]) => right - left)[0]?.[0] ?? null
}

const isAt = (line: GridLine, at: CellAt): boolean =>
  line.region === at.region && line.label === at.label && line.kind === at.kind && line.source === at.source

const linesOfCell = (at: CellAt, cell: GridCell): GridLinesOf => ({
  title: `${regionText(at.region)} · ${at.class || 'no class'}`,
  asked: {
    of: 'supplies',
    supplies: cell.supplies.map(({ source, kind, label, region, class: name, since }) => ({
      ...{ source, kind, label, region, class: name, since },
    })),
  },
})

const Grid = ({ page }: { readonly page: TaxGridFacts }) => {
  const { locale } = useClient()
  const href = useHref()
  const draft = useTaxDraft(page)
  const [chosen, setChosen] = useState<CellAt | null>(null)
  const [lines, setLines] = useState<GridLinesOf | null>(null)
  const openLines = (of: GridLinesOf): void => {
    setLines(of)
    window.scrollTo({ top: 0 })
  }
  const [newCode, setNewCode] = useState<TaxCodeRow | null>(null)
  const grid = taxGrid(draft.rows, page.seen, { since: draft.since, classes: draft.classes.map(entry => entry.class) })
  const cell = chosen && grid.lines.find(line => isAt(line, chosen))?.cells.find(one => one.class === chosen.class)
  const money = (minor: number): string => `${currencySign(page.currency)} ${amountText(minor, page.currency, locale)}`
  const open = grid.lines.reduce((sum, line) => sum + line.open, 0)
  const undecided = grid.lines.flatMap(line => line.cells).filter(one => one.open !== 0).length
  const date = page.to ?? draft.since ?? '9999-12-31'
  const home = homeOf(page.taxCodes)
  const proposal =
    chosen && cell && cell.serving === null && cell.lines > 0
      ? proposeCode(chosen, cell, { codes: page.taxCodes, home, date })
      : null
  const ownCode = cell?.own as { code: string | null; reason: string } | null
  const across = (): void => {
    if (chosen && ownCode)
      draft.set(
        grid.classes.map(name => ({ ...chosen, class: name })),
        ownCode,
      )
  }
  const down = (): void => {
    if (chosen && ownCode)
      draft.set(
        grid.lines
          .filter(line => !line.unseen && !line.label && !line.kind && !line.source)
          .map(line => ({ ...chosen, region: line.region })),
        { ...ownCode, reason: '' },
      )
  }
  useKey('ctrl+s', 'save', () => draft.save())
  return (
    <Page
      links={<MappingLinks here="tax" />}
      title="Tax by destination"
      facts={
        <span>
          {undecided > 0 ? (
            <Span color="ochre">
              ◆ {countText(undecided, 'cell')} not decided, {money(open)} ·{' '}
            </Span>
          ) : null}
          {page.waiting.settlements > 0
            ? `${countText(page.waiting.settlements, 'settlement')} blocked, ${money(page.waiting.amount)} · `
            : ''}
          {page.to ? rangeText(page.from, page.to) : 'nothing was reported yet'}
        </span>
      }
      actions={
        <>
          <Periods draft={draft} />
          <Button asChild>
            <Link to={href('/mapping/tax/check')}>Check a month’s tax</Link>
          </Button>
        </>
      }
    >
      {draft.moved ? <Theirs version={page.version} onTake={draft.takeTheirs} onKeep={draft.keepMine} /> : null}
      {page.byRows ? null : (
        <chakra.p color="ochre" style={{ margin: '0 0 10px' }}>
          ◆ Tax still hangs on the routes of this client. Below is what rows make of them; once all is decided and
          saved, the rows decide, and a refund bears the rate of its sale.
        </chakra.p>
      )}
      {page.allCompared ? null : (
        <chakra.p color="ochre" style={{ margin: '0 0 10px' }}>
          ◆ The map tells too much apart for all of it to be compared: below is only what was sold in these weeks. Look
          the rest of the grid through before the rows decide.
        </chakra.p>
      )}
      {lines ? (
        <GridLines of={lines} currency={page.currency} onClose={() => setLines(null)} />
      ) : (
        <>
          {page.doubts.length > 0 ? (
            <DoubtTable
              doubts={page.doubts}
              decided={draft.decided}
              currency={page.currency}
              onLines={openLines}
              onDecide={draft.decide}
            />
          ) : null}
          <TaxGridTable
            grid={grid}
            codes={new Map(page.taxCodes.map(code => [code.code, code]))}
            date={date}
            home={home}
            names={new Map(page.sources.map(source => [source.source, source.name]))}
            chosen={chosen}
            onChoose={setChosen}
          />
          <ClassTable
            goods={page.goods}
            classes={draft.classes}
            currency={page.currency}
            onLines={openLines}
            onClass={draft.setClass}
          />
        </>
      )}
      <Unsaved changed={draft.changed} what="the tax grid" />
      <FootBar>
        <Act
          right="map"
          variant="solid"
          disabled={draft.isSaving || (!draft.changed && page.byRows)}
          onClick={draft.save}
        >
          {page.byRows ? 'Save the grid' : draft.open.length === 0 ? 'Let the rows decide' : 'Save as a draft'}
        </Act>
        {draft.changed ? <Button onClick={draft.forget}>Discard</Button> : null}
        {chosen && cell ? (
          <TaxCellBar
            at={chosen}
            cell={cell}
            codes={page.taxCodes}
            proposal={proposal && { code: proposal.code, why: proposalWords[proposal.why] }}
            onSet={to => draft.set([chosen], to)}
            onAcross={across}
            onDown={down}
            onLines={() => openLines(linesOfCell(chosen, cell))}
            onNewCode={() => setNewCode(blankTaxCode(page.accounts))}
          />
        ) : (
          <Span color="muted">Choose a cell to say what it bears.</Span>
        )}
      </FootBar>
      {newCode ? (
        <TaxCodeDialog
          draft={newCode}
          accounts={page.accounts}
          version={page.version}
          onClose={() => setNewCode(null)}
        />
      ) : null}
    </Page>
  )
}

/** Which period is looked at; another may begin on any day. */
const Periods = ({ draft }: { readonly draft: ReturnType<typeof useTaxDraft> }) => (
  <Flex gap="6px" align="center">
    <Select
      aria-label="Period of the grid"
      value={draft.since ?? ''}
      onChange={event => draft.setSince(event.target.value || null)}
    >
      <option value="">{draft.periods.length > 0 ? `before ${dateText(draft.periods[0] ?? null)}` : 'always'}</option>
      {[...new Set([...draft.periods, ...(draft.since ? [draft.since] : [])])].sort().map(day => (
        <option key={day} value={day}>
          from {dateText(day)}
        </option>
      ))}
    </Select>
    <DateInput
      aria-label="A period that begins on"
      title="Rows of a new period begin on this day"
      value=""
      onChange={date => {
        if (date) draft.setSince(date)
      }}
    />
  </Flex>
)

const Theirs = ({
  version,
  onTake,
  onKeep,
}: {
  readonly version: number
  readonly onTake: () => void
  readonly onKeep: () => void
}) => (
  <Box role="alert" borderWidth="1px" borderColor="ochre" px="12px" py="8px" mb="10px">
    <chakra.div color="ochre">
      ◆ Somebody saved version {version} of the map meanwhile. Yours, not saved yet, is shown below.
    </chakra.div>
    <Flex gap="10px" mt="6px">
      <Button onClick={onTake}>Take theirs</Button>
      <Button onClick={onKeep}>Go on with mine</Button>
    </Flex>
  </Box>
)
