import { createHash, randomUUID, timingSafeEqual } from 'node:crypto'
import { now } from './clock.ts'
import type { Grant, Store } from './store.ts'
import { Tokens } from './tokens.ts'

const yearMs = 365 * 24 * 3600 * 1000
const codeMs = 60_000

/** The one program that is known here. Its secrets are made up, and open nothing but the stand-ins. */
export const program = {
  id: 'culvert-of-the-demo',
  secret: 'made-up-for-the-demo',
  hookSecret: 'whsec_bWFkZS11cC1mb3ItdGhlLWRlbW8tb25seQ==',
} as const

interface Pending {
  readonly grant: Omit<Grant, 'id' | 'refresh' | 'formerRefresh' | 'grantedAt' | 'until'>
  readonly redirect: string
  /** Of the verifier, by S256. */
  readonly challenge: string
  readonly until: number
}

const isSame = (one: string, other: string): boolean => {
  const [left, right] = [one, other].map(text => createHash('sha256').update(text).digest())
  return left !== undefined && right !== undefined && timingSafeEqual(left, right)
}
export const isProgram = (id: string, secret: string): boolean =>
  isSame(id, program.id) && isSame(secret, program.secret)

interface Pair {
  readonly access_token: string
  readonly refresh_token: string
  readonly token_type: 'bearer'
  readonly expires_in: number
  readonly scope: string
}

/** What was granted, and the codes and tokens that come of it: the authorization code grant of RFC 6749 with PKCE (RFC 7636); refresh tokens change with every use. */
export class Grants {
  private readonly codes = new Map<string, Pending>()
  private readonly tokens = new Tokens<string>()
  private readonly store: Store

  constructor(store: Store) {
    this.store = store
  }

  /** A code for what somebody just granted; good once, and for a minute. */
  code(pending: Omit<Pending, 'until'>): string {
    const code = randomUUID()
    this.codes.set(code, { ...pending, until: Date.now() + codeMs })
    return code
  }

  /** Tokens for a code; null where it was used, is too old, or is another's. */
  redeem(code: string, service: string, { redirect, verifier }: { redirect: string; verifier: string }): Pair | null {
    const pending = this.codes.get(code)
    this.codes.delete(code)
    if (!pending || pending.until < Date.now() || pending.grant.service !== service || pending.redirect !== redirect)
      return null
    if (createHash('sha256').update(verifier).digest('base64url') !== pending.challenge) return null
    const grant = {
      ...pending.grant,
      id: randomUUID(),
      refresh: randomUUID(),
      formerRefresh: null,
      grantedAt: now(),
      until: now() + yearMs,
    }
    this.store.keepGrants([...this.store.grants(), grant])
    return this.pair(grant)
  }

  /** Tokens for a refresh token; null where what was granted has ended. */
  refresh(service: string, refresh: string): Pair | null {
    const grant = this.byRefresh(service, refresh)
    if (!grant) return null
    const next = { ...grant, refresh: randomUUID(), formerRefresh: refresh }
    this.change(grant.id, () => next)
    return this.pair(next)
  }

  /** What a refresh token stands for; null where it has ended. */
  byRefresh(service: string, refresh: string): Grant | null {
    const grant = this.store
      .grants()
      .find(one => one.service === service && (one.refresh === refresh || one.formerRefresh === refresh))
    return grant && grant.until > now() ? grant : null
  }

  /** What an authorization header stands for; null where it stands for nothing any more. */
  byToken(authorization: string | undefined, mostUses: number): Grant | null {
    const id = this.tokens.holderOf(authorization, mostUses)
    const grant = this.store.grants().find(one => one.id === id)
    return grant && grant.until > now() ? grant : null
  }

  /** Ends what was granted, with all its tokens. */
  end(id: string): void {
    this.store.keepGrants(this.store.grants().filter(one => one.id !== id))
    this.tokens.takeBack(holder => holder === id)
  }

  /** Lets what was granted run out by now. */
  runOut(id: string): void {
    this.change(id, grant => ({ ...grant, until: now() }))
    this.tokens.takeBack(holder => holder === id)
  }

  private change(id: string, to: (grant: Grant) => Grant): void {
    this.store.keepGrants(this.store.grants().map(one => (one.id === id ? to(one) : one)))
  }

  private pair(grant: Grant): Pair {
    const { token, expires_in } = this.tokens.give(grant.id)
    return {
      access_token: token,
      refresh_token: grant.refresh,
      token_type: 'bearer',
      expires_in,
      scope: grant.scopes.join(' '),
    }
  }
}
