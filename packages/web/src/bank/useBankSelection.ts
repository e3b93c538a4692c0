import { type BankPage, bankEndpoints, memberRefusals } from '@culvert/contract'
import { useState } from 'react'
import { useClient } from '../context/ClientContext.tsx'
import { call } from '../context/request.ts'
import { useOneAtATime } from '../context/useOneAtATime.ts'
import { countText } from '../ui/formats.ts'
import { useNotice } from '../ui/Notice.tsx'
import { useWayBack } from '../ui/useWayBack.ts'
import type { Tide, TideMark } from './arrangeTide.ts'
import { useBankActs } from './bankQueries.ts'
import type { Coded } from './CodeForm.tsx'
import { useApart } from './useApart.ts'

/** What can be done to what is selected or picked. */
export interface BankActs {
  readonly busy: boolean
  /** Ties what is picked, or the selected proposal; with the account that a difference is booked to. */
  confirm(difference: string | null): void
  code(bankLine: string, coded: Coded): void
  askAside(): void
  undo(): void
  learn(source: string, name: string, wording: string): void
  pick(keys: readonly string[]): void
  clear(): void
}

const membersOf = (keys: Iterable<string>): { transfers: string[]; bankLines: string[] } => {
  const all = [...keys]
  const side = (letter: string) => all.filter(key => key.startsWith(letter)).map(key => key.slice(1))
  return { transfers: side('t'), bankLines: side('b') }
}

/** Where one stands in the tide table, what is picked, and the acts on it. */
export const useBankSelection = (page: BankPage, tide: Tide) => {
  const { clientId } = useClient()
  const notice = useNotice()
  const bank = useBankActs(clientId)
  const apart = useApart(clientId)
  const oneAtATime = useOneAtATime()
  const wayBack = useWayBack(clientId)
  const [at, setAt] = useState<string | null>(null)
  const [picked, setPicked] = useState<ReadonlySet<string>>(new Set())
  const [asking, setAsking] = useState(false)
  const mark = tide.marks.find(one => one.key === at) ?? null
  const account = page.account.code
  // What was picked and is open no more, since somebody else was quicker, falls out.
  const open = new Set([...page.transfers.map(one => `t${one.id}`), ...page.lines.map(one => `b${one.id}`)])
  const chosen = new Set([...picked].filter(key => open.has(key)))
  const isOpen = (one: TideMark): boolean => open.has(one.key)

  const step = (by: number): void => {
    const place = tide.marks.findIndex(one => one.key === at)
    const next = tide.marks[Math.min(tide.marks.length - 1, Math.max(0, place + by))]
    if (next) setAt(next.key)
  }
  /** To the nearest mark of the other side. */
  const cross = (side: 'left' | 'right'): void => {
    const marks: readonly TideMark[] = tide[side]
    const y = mark?.y ?? 0
    const [first] = [...marks].sort((one, other) => Math.abs(one.y - y) - Math.abs(other.y - y))
    const inGroup = marks.find(one => mark !== null && one.group.id === mark.group.id)
    const next = inGroup ?? first
    if (next) setAt(next.key)
  }
  const togglePick = (): void => {
    if (!mark || !isOpen(mark)) return
    const next = new Set(chosen)
    if (!next.delete(mark.key)) next.add(mark.key)
    setPicked(next)
  }
  const afterwards = (): string | null => {
    const place = tide.marks.findIndex(one => one.key === at)
    const rest = tide.marks.slice(place + 1).filter(one => one.group.id !== mark?.group.id)
    return (rest.find(one => one.group.proposal !== null) ?? null)?.key ?? null
  }
  const confirm = (difference: string | null): void => {
    const proposal = mark?.group.proposal
    const group =
      chosen.size > 0
        ? membersOf(chosen)
        : proposal
          ? { transfers: proposal.transfers.map(one => one.id), bankLines: proposal.bankLines.map(one => one.id) }
          : null
    if (!group || bank.confirm.isPending) return
    const next = chosen.size > 0 ? null : afterwards()
    oneAtATime(over =>
      bank.confirm.mutate(
        { account, groups: [{ ...group, ...(difference !== null && { difference: { account: difference } }) }] },
        {
          onError: notice.refuse,
          onSettled: over,
          onSuccess: outcome => {
            if (!outcome) return
            if (outcome.refused.length > 0)
              notice.refuse(
                new Error(`Not confirmed: ${outcome.refused.map(one => memberRefusals[one.reason]).join('; ')}.`),
              )
            else {
              notice.say(
                `Confirmed${outcome.entries > 0 ? `, with ${countText(outcome.entries, 'entry', 'entries')} for the difference` : ''}. It can be taken apart again.`,
                apart(outcome.pairings),
              )
              setPicked(new Set())
              setAt(next)
            }
          },
        },
      ),
    )
  }
  const acts: BankActs = {
    busy:
      bank.confirm.isPending ||
      bank.undo.isPending ||
      bank.code.isPending ||
      bank.setAside.isPending ||
      bank.wording.isPending,
    confirm,
    code: (bankLine, coded) =>
      oneAtATime(over =>
        bank.code.mutate(
          { bank: account, bankLine, ...coded },
          {
            onError: notice.refuse,
            onSettled: over,
            onSuccess: ({ pairings }) =>
              notice.say(`Booked to ${coded.account}. It can be taken apart again.`, apart(pairings)),
          },
        ),
      ),
    askAside: () => setAsking(true),
    undo: () => {
      const decided = mark?.group.decided
      if (decided && !bank.undo.isPending)
        bank.undo.mutate([decided.pairingId], {
          onError: notice.refuse,
          onSuccess: () =>
            notice.say(
              decided.sort === 'set_aside'
                ? 'Taken up again.'
                : `Taken apart; ${decided.entry ? `entry ${decided.entry} is reversed and ` : ''}what it tied is open again.`,
            ),
        })
    },
    learn: (source, name, wording) =>
      bank.wording.mutate(
        { source, wording, known: true },
        {
          onError: notice.refuse,
          onSuccess: () =>
            notice.say(
              `“${wording}” names ${name} from now on.`,
              wayBack('Forget it', async () => {
                await call(bankEndpoints.saveWording, { client: clientId, body: { source, wording, known: false } })
                return `“${wording}” names nobody any more.`
              }),
            ),
        },
      ),
    pick: keys => setPicked(new Set(keys)),
    clear: () => setPicked(new Set()),
  }
  const setAside = (reason: string): void => {
    const members = chosen.size > 0 ? membersOf(chosen) : membersOf(mark ? [mark.key] : [])
    bank.setAside.mutate(
      { bank: account, ...members, reason },
      {
        onError: notice.refuse,
        onSuccess: ({ changed, pairings }) => {
          notice.say(`Set ${changed} aside. It can be taken up again.`, apart(pairings, 'Take up again'))
          setPicked(new Set())
          setAsking(false)
        },
      },
    )
  }
  return { mark, at, setAt, picked: chosen, step, cross, togglePick, acts, asking, setAsking, setAside }
}
