import { fromNodeHeaders } from 'better-auth/node'
import { sql } from 'drizzle-orm'
import type { Request, Response } from 'express'
import { cookiesOf, type Identity, passCookies } from '../access/identity.ts'
import { Refused } from '../access/refused.ts'
import type { TryFrom } from '../access/tries.ts'
import { notePracticeAct, recordPracticeAct } from '../acts/practiceActs.ts'
import { asPerson, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { endFactorDue, factorWasUsed } from './lostFactor.ts'
import { tellPerson } from './tellPerson.ts'

/** What a browser keeps of having signed in: it tells nothing but that. */
const knownCookie = ({ origin }: Identity): string => `${cookiesOf(origin).prefix}.known`
const knownFor = 400 * 24 * 60 * 60 * 1000

const cookieOf = (request: Request, name: string): string | undefined =>
  request.headers.cookie
    ?.split('; ')
    .find(one => one.startsWith(`${name}=`))
    ?.slice(name.length + 1)

const fromOf = (identity: Identity, request: Request, address: string): TryFrom => ({
  address,
  place: request.ip ?? '',
  known: cookieOf(request, knownCookie(identity)),
})

const remember = (identity: Identity, response: Response, address: string): void => {
  const { attributes } = cookiesOf(identity.origin)
  response.cookie(knownCookie(identity), identity.tries.knownAs(address), { ...attributes, maxAge: knownFor })
}

/** Runs a try: too many that failed are refused before it, and what it throws is one more. */
const tried = async <Done>(
  { database, tries, reach }: Identity,
  from: TryFrom,
  attempt: {
    readonly run: () => Promise<Done>
    readonly refusal: 'sign_in_failed' | 'second_factor_failed' | 'password_wrong'
  },
): Promise<Done> => {
  await tries.check(from)
  try {
    return await attempt.run()
  } catch (error) {
    if (!isRefusedByAuth(error)) {
      await reach()
      throw error
    }
    // The one that fills the measure is written down: whoever guesses is seen, and fills no book.
    if (await tries.failed(from))
      await notePracticeAct(database, {
        sort: 'sign_in_held',
        by: null,
        note: from.address.startsWith('second ') ? 'a second factor' : from.address,
      }).catch(() => undefined)
    throw new Refused(attempt.refusal)
  }
}

/** What the package refuses, and not what went wrong with it. */
export const isRefusedByAuth = (error: unknown): boolean =>
  error instanceof Error && error.name === 'APIError' && Number((error as { statusCode?: unknown }).statusCode) < 500

interface Entering {
  readonly request: Request
  readonly response: Response
  readonly body: { readonly email: string; readonly password: string }
  /** They begin just now: no browser of theirs is known yet. */
  readonly joins?: boolean
}

/** Signs in by address and password; where there is a second factor it is asked for next. @throws Refused */
export const signIn = async (
  identity: Identity,
  { request, response, body, joins = false }: Entering,
): Promise<{ next: 'in' | 'second_factor' }> => {
  const from = fromOf(identity, request, body.email)
  const enter = () =>
    identity.auth.api.signInEmail({ body, headers: fromNodeHeaders(request.headers), returnHeaders: true })
  let found = await tried(identity, from, { run: enter, refusal: 'sign_in_failed' })
  if ('twoFactorRedirect' in found.response && (await endFactorDue(identity.database, body.email)))
    found = await enter()
  passCookies(found.headers, response)
  await identity.tries.passed(from)
  if ('twoFactorRedirect' in found.response) return { next: 'second_factor' }
  await noteEntered(identity, body.email, 'by password')
  if (!joins && !identity.tries.isKnown(from)) tellPerson(identity.mail, body.email, 'new_browser')
  remember(identity, response, body.email)
  return { next: 'in' }
}

/** Writes down that somebody is in. */
const noteEntered = (identity: Identity, email: string, note: string): Promise<void> =>
  asPerson(identity.database, 0, async tx => {
    const [person] = await rowsOf(tx, { id: is.whole }, sql`SELECT user_id AS id FROM app_user WHERE email = ${email}`)
    if (person) await recordPracticeAct(tx, { sort: 'sign_in', by: person.id, note })
  })

const isRecovery = (code: string): boolean => !/^\d{6}$/.test(code.replaceAll(' ', ''))

/** Goes on signing in by a time code or a recovery code. @throws Refused */
export const passSecondFactor = async (
  identity: Identity,
  { request, response, code }: { request: Request; response: Response; code: string },
): Promise<void> => {
  const headers = fromNodeHeaders(request.headers)
  // Whose it is, the cookie of the first step says; tries are counted by it.
  const from = fromOf(
    identity,
    request,
    `second ${cookieOf(request, `${cookiesOf(identity.origin).prefix}.two_factor`) ?? ''}`,
  )
  const found = await tried(identity, from, {
    run: () =>
      isRecovery(code)
        ? identity.auth.api.verifyBackupCode({ body: { code }, headers, returnHeaders: true })
        : identity.auth.api.verifyTOTP({ body: { code: code.replaceAll(' ', '') }, headers, returnHeaders: true }),
    refusal: 'second_factor_failed',
  })
  passCookies(found.headers, response)
  await factorWasUsed(identity.database, found.response.user.email)
  await noteEntered(
    identity,
    found.response.user.email,
    isRecovery(code) ? 'by password and a recovery code' : 'by password and a time code',
  )
  const { email } = found.response.user
  // The cookie of the second step names no address: whether the browser is known is asked of the one that it turned out to be.
  if (!identity.tries.isKnown({ ...from, address: email })) tellPerson(identity.mail, email, 'new_browser')
  remember(identity, response, email)
}

/** Signs out: the session ends on the server, and what the browser kept of it. */
export const signOut = async ({ auth }: Identity, request: Request, response: Response): Promise<void> => {
  const { headers } = await auth.api.signOut({ headers: fromNodeHeaders(request.headers), returnHeaders: true })
  passCookies(headers, response)
}

/** Checks what somebody who is signed in says their password is, before something that asks for it. @throws Refused */
export const withPassword = <Done>(
  identity: Identity,
  request: Request,
  of: { readonly address: string; readonly run: () => Promise<Done> },
): Promise<Done> => tried(identity, fromOf(identity, request, of.address), { run: of.run, refusal: 'password_wrong' })
