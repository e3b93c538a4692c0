/** A request that cannot be served: its HTTP status and a sentence for a person. */
export class Refused extends Error {
  override readonly name = 'Refused'
  readonly status: number

  constructor(status: number, message: string) {
    super(message)
    this.status = status
  }
}

/** `value` unless there is none. @throws Refused 404 */
export const found = <Value>(value: Value | null | undefined, what: string): Value => {
  if (value === null || value === undefined) throw new Refused(404, `no such ${what}`)
  return value
}
