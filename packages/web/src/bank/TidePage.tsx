import type { BankPage, StatementOutcome } from '@culvert/contract'
import { addDays } from '@culvert/core'
import { useQuery } from '@tanstack/react-query'
import { useEffect, useMemo, useState } from 'react'
import { Link, useParams, useSearchParams } from 'react-router'
import { useClient, useHref, usePeriod } from '../course/ClientContext.tsx'
import { useTrace } from '../course/TraceContext.tsx'
import { pullsQuery } from '../sources/sourceQueries.ts'
import { Button } from '../ui/Button.tsx'
import { FileButton } from '../ui/FileButton.tsx'
import { countText, dateText, rangeText } from '../ui/formats.ts'
import { useKey } from '../ui/keys.ts'
import { useNotice } from '../ui/Notice.tsx'
import { Page } from '../ui/Page.tsx'
import { arrangeTide } from './arrangeTide.ts'
import { bankAccountsQuery, tideQuery, useBankActs } from './bankQueries.ts'
import { SelectionBar } from './SelectionBar.tsx'
import { TideTable } from './TideTable.tsx'

export const BankLinks = ({ here }: { readonly here: 'pairing' | 'accounts' }) => {
  const href = useHref()
  return (
    <>
      <Link to={href('/bank')} aria-current={here === 'pairing' ? 'page' : undefined}>
        Pairing
      </Link>
      <Link to={href('/bank/accounts')} aria-current={here === 'accounts' ? 'page' : undefined}>
        Accounts and statements
      </Link>
    </>
  )
}

export const statementText = (name: string, outcome: StatementOutcome): string =>
  `${name}: ${countText(outcome.added, 'bank line')} new, ${outcome.same} known already${outcome.from ? `, ${rangeText(outcome.from, outcome.to)}` : ''}.`

/** Pairing on one bank account. */
export const TidePage = () => {
  const { clientId } = useClient()
  const params = useParams()
  const [search] = useSearchParams()
  const { from, to } = usePeriod()
  const { data: list } = useQuery(bankAccountsQuery(clientId))
  const account = params.account ?? list?.accounts[0]?.code ?? ''
  const around = search.get('around')
  const range =
    around !== null && /^\d{4}-\d\d-\d\d$/.test(around)
      ? { from: addDays(around, -17), to: addDays(around, 17) }
      : { from, to }
  const { data, error } = useQuery(tideQuery(clientId, account, range))
  if (error)
    return (
      <Page links={<BankLinks here="pairing" />} title="Bank">
        <span role="alert" className="crimson">
          {error.message}
        </span>
      </Page>
    )
  if (list && list.accounts.length === 0)
    return (
      <Page links={<BankLinks here="pairing" />} title="Bank">
        Make an account of type bank on the Mapping page; its statements and deposits stand here.
      </Page>
    )
  return data ? <Pairing page={data} /> : null
}

const Pairing = ({ page }: { readonly page: BankPage }) => {
  const { clientId } = useClient()
  const notice = useNotice()
  const { open } = useTrace()
  const acts = useBankActs(clientId)
  const [selected, setSelected] = useState<string | null>(null)
  const tide = useMemo(() => arrangeTide(page), [page])
  const group = tide.groups.find(one => one.id === selected) ?? null
  const { data: log } = useQuery(pullsQuery(clientId, page.account.code))
  const pulling = log?.pulls[0] !== undefined && ['waiting', 'running'].includes(log.pulls[0].state)
  const busy = acts.confirm.isPending || acts.undo.isPending || acts.confirmCertain.isPending
  const step = (by: number) => {
    const at = tide.groups.findIndex(one => one.id === selected)
    const next = tide.groups[Math.min(tide.groups.length - 1, Math.max(0, at + by))]
    if (next) setSelected(next.id)
  }
  const confirm = () => {
    if (!group?.pairing || group.tone === 'confirmed' || group.pairing.difference !== 0 || busy) return
    const at = tide.groups.findIndex(one => one.id === selected)
    const next = tide.groups.slice(at + 1).find(one => one.pairing !== null && one.tone !== 'confirmed')
    acts.confirm.mutate(
      {
        account: page.account.code,
        groups: [{ transfers: group.transfers.map(one => one.id), bankLines: group.bankLines.map(one => one.id) }],
      },
      {
        onError: notice.refuse,
        onSuccess: outcome => {
          if (outcome.refused.length > 0)
            notice.refuse(new Error(`Not confirmed: ${outcome.refused.map(one => one.reason).join('; ')}.`))
          else notice.say('Confirmed. It can be taken apart again.')
          setSelected(next?.id ?? null)
        },
      },
    )
  }
  const undo = () => {
    if (group?.tone === 'confirmed' && group.pairing?.pairingId && !busy)
      acts.undo.mutate([group.pairing.pairingId], {
        onError: notice.refuse,
        onSuccess: () => notice.say('Taken apart; both sides are open again.'),
      })
  }
  const confirmAll = () =>
    acts.confirmCertain.mutate(page.account.code, {
      onError: notice.refuse,
      onSuccess: outcome => notice.say(`Confirmed ${countText(outcome.confirmed, 'pairing')}.`),
    })
  useKey('j, down', () => step(1))
  useKey('k, up', () => step(-1))
  useKey('p, enter', confirm)
  useKey('b', undo)
  useKey('t', () => group?.transfers[0] && open({ at: 'transfer', id: group.transfers[0].id }))
  const takeFiles = async (files: readonly File[]) => {
    try {
      const said: string[] = []
      for (const file of files) said.push(statementText(file.name, await acts.upload.mutateAsync(file)))
      notice.say(said.join(' '))
    } catch (error) {
      notice.refuse(error)
    }
  }
  const firstOpen = tide.groups.find(one => one.tone !== 'confirmed')?.id ?? null
  useEffect(() => {
    if (firstOpen !== null) document.querySelector('.tide-mark:not(.confirmed)')?.scrollIntoView({ block: 'center' })
  }, [firstOpen])
  const alone = page.transfersAlone.length + page.linesAlone.length
  return (
    <Page
      links={<BankLinks here="pairing" />}
      title={page.account.name}
      facts={
        <span>
          {page.account.currency} ·{' '}
          {page.statementTo ? `statement to ${dateText(page.statementTo)}` : 'no statement yet'} ·{' '}
          {page.confirmed.length} confirmed, {page.proposals.length} proposed, {alone} alone
        </span>
      }
      actions={
        <>
          <FileButton
            label="Bring in a statement"
            accept=".xml,.csv,text/csv,application/xml"
            busy={acts.upload.isPending}
            onFiles={files => void takeFiles(files)}
          />
          <Button disabled={pulling} onClick={() => acts.pull.mutate(page.account.code, { onError: notice.refuse })}>
            {pulling ? 'Pulling …' : 'Pull from the bank'}
          </Button>
          <Button look="main" disabled={page.certain === 0 || busy} onClick={confirmAll}>
            Confirm {page.certain} certain
          </Button>
        </>
      }
    >
      <TideTable
        tide={tide}
        currency={page.account.currency}
        selected={selected}
        onSelect={one => setSelected(one.id)}
      />
      <SelectionBar page={page} group={group} busy={busy} onConfirm={confirm} onUndo={undo} />
    </Page>
  )
}
