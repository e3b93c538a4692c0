import type { Overview, Session, StageName, StageSummary } from '@culvert/contract'
import { type StageSaying, stageLabels, stageSaying } from '../ui/stages.ts'
import { reasonText } from '../ui/words.ts'

/** Something that waits in a client. */
export interface Waiting {
  readonly stage: StageName
  readonly label: string
  readonly saying: StageSaying
  readonly amount: number
  /** The heaviest of it, where one can be named. */
  readonly heaviest: string
  readonly since: string | null
  readonly link: string
}

// What keeps all else from being right comes first: a source that fails, then what nothing explains, then what is held up.
const order: readonly StageName[] = [
  'sources',
  'clearing',
  'settlements',
  'mapping',
  'bank',
  'payments',
  'close',
  'books',
]

const weightOf = ({ tone }: StageSaying): number => (tone === 'fail' ? 0 : tone === 'warn' ? 1 : 2)

/** What waits in a client, the most urgent first. */
export const waitingIn = (
  client: Pick<Session['clients'][number], 'stages'>,
  overview: Pick<Overview, 'heaviest'> | undefined,
): Waiting[] =>
  client.stages
    .filter((summary: StageSummary) => summary.waiting > 0)
    .map(summary => {
      const heaviest = overview?.heaviest.find(one => one.stage === summary.stage)
      return {
        stage: summary.stage,
        label: stageLabels[summary.stage],
        saying: stageSaying(summary, client.stages),
        amount: summary.amount,
        heaviest: heaviest
          ? [heaviest.title, heaviest.reason ? reasonText(heaviest.reason) : ''].filter(Boolean).join(': ')
          : '',
        since: heaviest?.since ?? null,
        link: heaviest?.link ?? `/${summary.stage}`,
      }
    })
    .sort(
      (left, right) =>
        weightOf(left.saying) - weightOf(right.saying) || order.indexOf(left.stage) - order.indexOf(right.stage),
    )

/** The most urgent first: what fails before what waits, and of each more money before less. */
export const byUrgency = (left: readonly Waiting[], right: readonly Waiting[]): number => {
  const weight = (all: readonly Waiting[]): number => (all[0] ? weightOf(all[0].saying) : 3)
  const money = (all: readonly Waiting[]): number => all[0]?.amount ?? 0
  return weight(left) - weight(right) || money(right) - money(left)
}

/** Sums of what waits at a stage, of clients of one base currency. */
export const sumsOf = (clients: readonly Session['clients'][number][], stage: StageName) => {
  const found = clients.flatMap(client => client.stages.filter(one => one.stage === stage))
  return {
    waiting: found.reduce((sum, one) => sum + one.waiting, 0),
    amount: found.reduce((sum, one) => sum + one.amount, 0),
  }
}
