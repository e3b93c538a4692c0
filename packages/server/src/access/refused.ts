/** A request that cannot be served: its HTTP status and a sentence for a person. */
export class Refused extends Error {
  override readonly name: string = 'Refused'
  readonly status: number

  constructor(status: number, message: string) {
    super(message)
    this.status = status
  }
}

/** Somebody else changed what this was made from: nothing is changed, and nothing is lost. */
export class Conflict extends Refused {
  constructor(message: string) {
    super(409, message)
  }
}

/** Something that is asked about before it is done; asking again with the answer does it. */
export class Question extends Refused {
  readonly ask: string

  constructor(ask: string, message: string) {
    super(409, message)
    this.ask = ask
  }
}

/** `value` unless there is none. @throws Refused 404 */
export const found = <Value>(value: Value | null | undefined, what: string): Value => {
  if (value === null || value === undefined) throw new Refused(404, `no such ${what}`)
  return value
}
