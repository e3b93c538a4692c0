import { type FiguresOf, type RefusalCode, refusals } from './refusals.ts'

/** Figures are left out where a refusal has none. */
type Told<Code extends RefusalCode> =
  Record<never, never> extends FiguresOf<Code> ? [figures?: FiguresOf<Code>] : [figures: FiguresOf<Code>]

/** What is asked cannot be done: which refusal it is, and its figures. How it is said, and with which HTTP status, `refusals` knows. */
export class Refused<Code extends RefusalCode = RefusalCode> extends Error {
  override readonly name: string = 'Refused'
  readonly code: Code
  readonly figures: Record<string, unknown>
  readonly status: number

  constructor(code: Code, ...[figures]: Told<Code>) {
    const { status, words } = refusals[code]
    super((words as (of: object) => string)(figures ?? {}))
    this.code = code
    this.figures = { ...figures }
    this.status = status
  }
}

/** Somebody else changed what this was made from: nothing is changed, and nothing is lost. */
export class Conflict extends Refused<'saved_meanwhile'> {}

/** Something that is asked about before it is done; asking again with the answer does it. */
export class Question<Code extends RefusalCode> extends Refused<Code> {}

/** `value` unless there is none. @throws Refused 404 */
export const found = <Value>(value: Value | null | undefined, what: string): Value => {
  if (value === null || value === undefined) throw new Refused('not_found', { what })
  return value
}
