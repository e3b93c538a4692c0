import { endpoints } from '@culvert/contract'
import { fromNodeHeaders } from 'better-auth/node'
import { sql } from 'drizzle-orm'
import { Router } from 'express'
import { type Identity, passCookies } from '../access/identity.ts'
import { Refused } from '../access/refused.ts'
import { serve } from '../access/serve.ts'
import { notePracticeAct } from '../acts/practiceActs.ts'
import { asPerson, type Database, oneRow, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { addToken, endOtherSessions, endSession, loadAccount, withdrawToken } from './account.ts'
import { changeAddress, confirmAddress } from './changeAddress.ts'
import { isTriedFirst } from './commonPasswords.ts'
import { demoPersons } from './demoPersons.ts'
import { acceptInvitation, invite, lookAtInvitation, withdrawInvitation } from './invitations.ts'
import { loadPeople } from './loadPeople.ts'
import { endFactorOf, keepFactorOf } from './lostFactor.ts'
import { removePerson, setPerson } from './setPerson.ts'
import { isRefusedByAuth, passSecondFactor, signIn, signOut, withPassword } from './signIn.ts'
import { tellPerson } from './tellPerson.ts'

const numberIn = (text: string, what: string): number => {
  const number = Number(text)
  if (!Number.isSafeInteger(number) || number < 1 || number >= 2 ** 31) throw new Refused('not_found', { what })
  return number
}

/** Signing in and out, one’s own account, and who is of the practice. */
export const peopleRoutes = (database: Database, identity: Identity, demo: boolean): Router => {
  const router = Router()
  openRoutes(router, { database, identity, demo })
  accountRoutes(router, { database, identity })
  serve(router, endpoints.people, ({ userId }) => asPerson(database, userId, tx => loadPeople(tx, userId)))
  serve(router, endpoints.invite, ({ userId, body }) => invite(database, identity, { userId, body }))
  serve(router, endpoints.withdrawInvitation, async ({ userId, params }) => {
    await withdrawInvitation(database, userId, numberIn(params.invitation, 'invitation'))
    return {}
  })
  serve(router, endpoints.setPerson, async ({ userId, params, body }) => {
    await setPerson(database, { userId, person: numberIn(params.person, 'person'), body })
    return {}
  })
  serve(router, endpoints.endFactorOf, ({ userId, params }) =>
    endFactorOf(database, identity.mail, { userId, person: numberIn(params.person, 'person') }),
  )
  serve(router, endpoints.keepFactorOf, async ({ userId, params }) => {
    await keepFactorOf(database, { userId, person: numberIn(params.person, 'person') })
    return {}
  })
  serve(router, endpoints.removePerson, async ({ userId, params }) => {
    await removePerson(database, { userId, person: numberIn(params.person, 'person') })
    return {}
  })
  return router
}

/** Whose new password a link is for. */
const personOfReset = (database: Database, token: string): Promise<number | null> =>
  asPerson(database, 0, async tx => {
    const [row] = await rowsOf(
      tx,
      { id: is.whole },
      sql`SELECT u."personId" AS id FROM auth.verification v JOIN auth."user" u ON u.id = v.value WHERE v.identifier = ${`reset-password:${token}`}`,
    )
    return row?.id ?? null
  })

const openRoutes = (
  router: Router,
  { database, identity, demo }: { database: Database; identity: Identity; demo: boolean },
): void => {
  serve(router, endpoints.signInChoices, () => Promise.resolve({ demo: demo ? demoPersons : [] }))
  serve(router, endpoints.signIn, asked => signIn(identity, asked))
  serve(router, endpoints.secondFactor, async ({ request, response, body }) => {
    await passSecondFactor(identity, { request, response, code: body.code })
    return {}
  })
  serve(router, endpoints.forgotten, async ({ request, body }) => {
    const from = { address: `forgotten ${body.email}`, place: request.ip ?? '', known: undefined }
    await identity.tries.check(from)
    await identity.tries.failed(from)
    // Not waited for: how long it takes would tell whether the address is known.
    void identity.auth.api.requestPasswordReset({ body: { email: body.email } }).catch(() => undefined)
    return {}
  })
  serve(router, endpoints.resetPassword, async ({ body }) => {
    if (isTriedFirst(body.password, '')) throw new Refused('password_known')
    const by = await personOfReset(database, body.token)
    await identity.auth.api
      .resetPassword({ body: { newPassword: body.password, token: body.token } })
      .catch((error: unknown) => {
        throw isRefusedByAuth(error) ? new Refused('link_spent') : error
      })
    await notePracticeAct(database, { sort: 'password_reset', by })
    return {}
  })
  serve(router, endpoints.confirmAddress, ({ body }) => confirmAddress(database, identity, body.token))
  serve(router, endpoints.lookAtInvitation, ({ body }) => lookAtInvitation(database, body.token))
  serve(router, endpoints.acceptInvitation, async ({ request, response, body }) => {
    const email = await acceptInvitation(database, body)
    await signIn(identity, { request, response, body: { email, password: body.password }, joins: true })
    return {}
  })
}

const accountRoutes = (router: Router, { database, identity }: { database: Database; identity: Identity }): void => {
  const { api } = identity.auth
  const addressOfPerson = (userId: number): Promise<string> =>
    asPerson(database, userId, async tx => {
      const found = await oneRow(tx, { email: is.text }, sql`SELECT email FROM app_user WHERE user_id = ${userId}`)
      return found.email
    })
  serve(router, endpoints.signOut, async ({ userId, request, response }) => {
    await signOut(identity, request, response)
    await notePracticeAct(database, { sort: 'sign_out', by: userId })
    return {}
  })
  serve(router, endpoints.account, ({ userId, signed }) =>
    asPerson(database, userId, tx => loadAccount(tx, userId, signed().session)),
  )
  serve(router, endpoints.endSession, async ({ userId, params }) => {
    await endSession(database, userId, params.session)
    return {}
  })
  serve(router, endpoints.changePassword, async ({ userId, signed, request, body }) => {
    const address = await addressOfPerson(userId)
    if (isTriedFirst(body.password, address)) throw new Refused('password_known')
    await withPassword(identity, request, {
      address,
      run: () =>
        api.changePassword({
          body: { currentPassword: body.current, newPassword: body.password },
          headers: fromNodeHeaders(request.headers),
        }),
    })
    await endOtherSessions(database, userId, signed().session)
    await notePracticeAct(database, { sort: 'password_changed', by: userId })
    tellPerson(identity.mail, address, 'password')
    return {}
  })
  serve(router, endpoints.beginSecondFactor, async ({ userId, request, body }) => {
    const begun = await withPassword(identity, request, {
      address: await addressOfPerson(userId),
      run: () => api.enableTwoFactor({ body, headers: fromNodeHeaders(request.headers) }),
    })
    if (begun.method !== 'totp') throw new Error('a second factor of another sort was begun')
    const { totpURI, backupCodes } = begun
    return { uri: totpURI, secret: new URL(totpURI).searchParams.get('secret') ?? '', recoveryCodes: backupCodes }
  })
  serve(router, endpoints.confirmSecondFactor, async ({ userId, request, response, body }) => {
    const { headers } = await withPassword(identity, request, {
      address: await addressOfPerson(userId),
      run: () =>
        api.verifyTOTP({
          body: { code: body.code.replaceAll(' ', '') },
          headers: fromNodeHeaders(request.headers),
          returnHeaders: true,
        }),
    })
    await notePracticeAct(database, { sort: 'second_factor_on', by: userId })
    tellPerson(identity.mail, await addressOfPerson(userId), 'factor_on')
    passCookies(headers, response)
    return {}
  })
  serve(router, endpoints.endSecondFactor, async ({ userId, request, response, body }) => {
    const { headers } = await withPassword(identity, request, {
      address: await addressOfPerson(userId),
      run: () => api.disableTwoFactor({ body, headers: fromNodeHeaders(request.headers), returnHeaders: true }),
    })
    await notePracticeAct(database, { sort: 'second_factor_off', by: userId })
    tellPerson(identity.mail, await addressOfPerson(userId), 'factor_off')
    passCookies(headers, response)
    return {}
  })
  serve(router, endpoints.changeAddress, async ({ userId, request, body }) => {
    await withPassword(identity, request, {
      address: await addressOfPerson(userId),
      run: () => api.verifyPassword({ body: { password: body.password }, headers: fromNodeHeaders(request.headers) }),
    })
    return changeAddress(database, identity, { userId, email: body.email })
  })
  serve(router, endpoints.addToken, async ({ userId, body }) => ({ token: await addToken(database, userId, body) }))
  serve(router, endpoints.withdrawToken, async ({ userId, params }) => {
    await withdrawToken(database, userId, numberIn(params.token, 'token'))
    return {}
  })
}
