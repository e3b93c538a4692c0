import { Box } from '@chakra-ui/react'
import type { BankPage, ProposalList } from '@culvert/contract'
import { addDays, sumMinor } from '@culvert/core'
import { useQuery } from '@tanstack/react-query'
import { useEffect, useMemo, useState } from 'react'
import { useParams, useSearchParams } from 'react-router'
import { useClient, usePeriod } from '../context/ClientContext.tsx'
import { useUnderWay } from '../context/JobsContext.tsx'
import { bankAccountsQuery, pullsQuery } from '../context/sharedQueries.ts'
import { StatementButton } from '../files/StatementButton.tsx'
import { Act } from '../ui/Act.tsx'
import { AskDialog } from '../ui/AskDialog.tsx'
import { amountText, countText, currencySign, dateText } from '../ui/formats.ts'
import { useKey } from '../ui/keys.ts'
import { useNotice } from '../ui/Notice.tsx'
import { Page } from '../ui/Page.tsx'
import { SetAsideDialog } from '../ui/SetAsideDialog.tsx'
import { arrangeTide, type Tide, type TideGroup } from './arrangeTide.ts'
import { BankLinks } from './BankLinks.tsx'
import { tideQuery, useBankActs } from './bankQueries.ts'
import { PickedBar } from './PickedBar.tsx'
import { SelectionBar } from './SelectionBar.tsx'
import { TideTable } from './TideTable.tsx'
import { useApart } from './useApart.ts'
import { useBankSelection } from './useBankSelection.ts'
import { usePairings } from './usePairings.ts'

/** Pairing on one bank account. */
export const TidePage = () => {
  const { clientId } = useClient()
  const params = useParams()
  const [search] = useSearchParams()
  const { from, to } = usePeriod()
  const accounts = useQuery(bankAccountsQuery(clientId))
  const list = accounts.data
  const account = params.account ?? list?.accounts[0]?.code ?? ''
  const around = search.get('around')
  const range =
    around !== null && /^\d{4}-\d\d-\d\d$/.test(around)
      ? { from: addDays(around, -17), to: addDays(around, 17) }
      : { from, to }
  const query = useQuery(tideQuery(clientId, account, range))
  const { data } = query
  if (list && list.accounts.length === 0)
    return (
      <Page links={<BankLinks here="pairing" />} title="Bank">
        Make an account of type bank in the chart; its statements and deposits stand here.
      </Page>
    )
  if (!data) return <Page links={<BankLinks here="pairing" />} title="Bank" of={accounts.data ? query : accounts} />
  return <Pairing page={data} />
}

const nothing: ProposalList = { proposals: [], groupsNotSearched: [], tooManyFit: [] }

const Pairing = ({ page }: { readonly page: BankPage }) => {
  const { clientId, locale } = useClient()
  const notice = useNotice()
  const acts = useBankActs(clientId)
  const apart = useApart(clientId)
  const { data, error } = usePairings(page)
  const list = data ?? nothing
  const [unfolded, setUnfolded] = useState<ReadonlySet<string>>(new Set())
  const tide = useMemo(() => arrangeTide(page, list, unfolded), [page, list, unfolded])
  const selection = useBankSelection(page, tide)
  const { mark, picked } = selection
  const { data: log } = useQuery(pullsQuery(clientId, page.account.code))
  const confirming = useUnderWay(clientId, ['confirm', 'confirm_certain'])
  const pulling = log?.pulls[0] !== undefined && ['waiting', 'running'].includes(log.pulls[0].state)
  useKey('j, down', 'next payout or deposit', () => selection.step(1))
  useKey('k, up', 'the one before', () => selection.step(-1))
  useKey('h, left', 'across to the payouts', () => selection.cross('left'))
  useKey('l, right', 'across to the deposits', () => selection.cross('right'))
  useKey('space', 'pick it, to pair by hand', selection.togglePick)
  useEffect(() => {
    if (selection.at !== null)
      document.querySelector(`[data-mark="${CSS.escape(selection.at)}"]`)?.scrollIntoView({ block: 'nearest' })
  }, [selection.at])
  const firstOpen = tide.groups.find(one => one.decided === null)?.id ?? null
  useEffect(() => {
    if (firstOpen !== null)
      document.querySelector('.tide-mark:not(.confirmed, .coded, .set_aside)')?.scrollIntoView({ block: 'center' })
  }, [firstOpen])
  const [asked, setAsked] = useState(false)
  const sure = list.proposals.filter(row => row.sureness === 'certain')
  const certain = sure.length
  const arrived = sumMinor(
    sure.flatMap(row => row.bankLines),
    line => line.amount,
  )
  const confirmAll = () =>
    acts.confirmCertain.mutate(page.account.code, {
      onError: notice.refuse,
      onSuccess: outcome =>
        outcome &&
        notice.say(
          `Confirmed ${countText(outcome.confirmed, 'pairing')}.`,
          apart(outcome.pairings, `Take ${outcome.pairings.length} apart`),
        ),
    })
  return (
    <Page
      links={<BankLinks here="pairing" account={page.account.code} />}
      title={page.account.name}
      facts={
        <span>
          {page.account.currency} ·{' '}
          {page.statementTo ? `statement to ${dateText(page.statementTo)}` : 'no statement yet'} ·{' '}
          {data ? tideFacts(tide, list) : error ? error.message : 'pairing …'}
        </span>
      }
      actions={
        <>
          <StatementButton of={{ subject: 'account', key: page.account.code }} />
          {page.granted ? (
            <Act
              right="bring"
              disabled={pulling}
              onClick={() => acts.pull.mutate(page.account.code, { onError: notice.refuse })}
            >
              {pulling ? 'Pulling …' : 'Pull from the bank'}
            </Act>
          ) : null}
          <Act
            right="pair"
            variant="solid"
            disabled={certain === 0 || acts.confirmCertain.isPending || confirming}
            onClick={() => (certain > 1 ? setAsked(true) : confirmAll())}
          >
            Confirm {certain} certain
          </Act>
        </>
      }
    >
      <AskDialog
        open={asked}
        title={`Confirm ${countText(certain, 'certain pairing')}?`}
        act={`Confirm ${countText(certain, 'pairing')}`}
        onAct={confirmAll}
        onClose={() => setAsked(false)}
      >
        {currencySign(page.account.currency)} {amountText(arrived, page.account.currency, locale)} in{' '}
        {countText(
          sure.reduce((count, row) => count + row.bankLines.length, 0),
          'bank line',
        )}{' '}
        arrived as what left the clearing accounts. Can be taken apart again.
      </AskDialog>
      {tide.groups.length === 0 ? (
        <Box color="muted" bg="sheet" borderWidth="1px" borderColor="hairline" px="14px" py="12px">
          Here payouts meet deposits: once a settlement is posted that pays into this account, or a statement of it is
          brought in.
        </Box>
      ) : (
        <TideTable
          tide={tide}
          currency={page.account.currency}
          at={selection.at}
          group={mark?.group.id ?? null}
          picked={picked}
          onSelect={one => selection.setAt(one.key)}
          onUnfold={fold => setUnfolded(new Set([...unfolded, fold.key]))}
        />
      )}
      {picked.size > 0 ? (
        <PickedBar page={page} picked={picked} acts={selection.acts} />
      ) : (
        <SelectionBar page={page} list={list} mark={mark} acts={selection.acts} />
      )}
      <SetAsideDialog
        open={selection.asking}
        what={picked.size > 1 ? `${picked.size} items` : 'it'}
        hint="it stays in the books and the statement, and can be taken up again."
        onClose={() => selection.setAsking(false)}
        onDone={selection.setAside}
      />
    </Page>
  )
}

/** How much is decided, proposed and alone between the page's dates; what was too much to search, over all. */
const tideFacts = ({ groups }: Tide, list: ProposalList): string => {
  const count = (fits: (group: TideGroup) => boolean) => groups.filter(fits).length
  return [
    `${count(group => group.decided !== null)} decided`,
    `${count(group => group.proposal !== null)} proposed`,
    `${count(group => group.tone === 'alone')} alone`,
    list.tooManyFit.length > 0 ? `${list.tooManyFit.length} that too much fits` : '',
    list.groupsNotSearched.length > 0 ? `${list.groupsNotSearched.length} not searched for groups` : '',
  ]
    .filter(text => text !== '')
    .join(', ')
}
