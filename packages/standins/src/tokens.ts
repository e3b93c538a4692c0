import { randomUUID } from 'node:crypto'

const tokenSeconds = 900

interface Given<Holder> {
  readonly holder: Holder
  readonly until: number
  uses: number
}

/** Tokens that were given out, each for one holder. */
export class Tokens<Holder> {
  private readonly given = new Map<string, Given<Holder>>()

  /** Gives a token to a holder. */
  give(holder: Holder): { token: string; expires_in: number } {
    const token = randomUUID()
    this.given.set(token, { holder, until: Date.now() + tokenSeconds * 1000, uses: 0 })
    return { token, expires_in: tokenSeconds }
  }
  /** Who holds the token of an authorization header; null where it is missing, unknown, or has run out by time or, if so switched, by use. */
  holderOf(authorization: string | undefined, mostUses: number): Holder | null {
    const token = this.given.get((authorization ?? '').replace(/^Bearer /, ''))
    if (!token) return null
    token.uses++
    if (mostUses > 0 && token.uses > mostUses) return null
    return token.until > Date.now() ? token.holder : null
  }
  /** Takes back every token of the holders that `is` names. */
  takeBack(is: (holder: Holder) => boolean): void {
    for (const [token, { holder }] of this.given) if (is(holder)) this.given.delete(token)
  }
}
