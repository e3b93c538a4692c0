import * as oauth from 'oauth4webapi'
import { checkAddress, guardedFetch } from '../access/guardedFetch.ts'
import { ServiceUnreachable } from './outsideService.ts'
import type { Service } from './services.ts'

const answerWithinMs = 15_000

/** What a service gave: a token to ask with, until when (ms since 1970), and what gives the next. */
export interface Tokens {
  readonly access: string
  readonly accessUntil: number
  readonly refresh: string | null
}

/** What was granted, as the service tells it. */
export interface Granted {
  readonly tokens: Tokens
  readonly scopes: readonly string[]
  readonly login: string
  /** ISO 8601; null where it has no end. */
  readonly until: string | null
}

/** A service that says no to what it had granted. */
export class NotGranted extends Error {
  override readonly name = 'NotGranted'
}

// Plain HTTP is for hosts that were allowed by name: the guard sees to that, for every address alike.
const options = {
  [oauth.allowInsecureRequests]: true,
  [oauth.customFetch]: async (address: string, init: oauth.CustomFetchOptions<string, unknown>): Promise<Response> => {
    const body = init.body instanceof URLSearchParams ? init.body.toString() : null
    const response = await guardedFetch(address, {
      method: init.method,
      headers: init.headers,
      body,
      signal: AbortSignal.timeout(answerWithinMs),
    })
    const headers = new Headers()
    response.headers.forEach((value, name) => {
      headers.set(name, value)
    })
    return new Response(await boundedBytes(response.body), { status: response.status, headers })
  },
} as const

const mostBytes = 1_000_000
const boundedBytes = async (body: AsyncIterable<Uint8Array> | null): Promise<Uint8Array<ArrayBuffer>> => {
  const parts: Uint8Array[] = []
  let bytes = 0
  for await (const part of body ?? []) {
    bytes += part.byteLength
    if (bytes > mostBytes) throw new ServiceUnreachable('a service sent more than 1 MB about what it granted')
    parts.push(part)
  }
  return new Uint8Array(Buffer.concat(parts))
}

// Whatever a service says or leaves unsaid on the way becomes one sort of error, but for a plain no.
const telling = async <Result>({ name }: Service, work: () => Promise<Result>): Promise<Result> => {
  try {
    return await work()
  } catch (error) {
    if (error instanceof oauth.ResponseBodyError && error.error === 'invalid_grant') throw new NotGranted(name)
    if (error instanceof oauth.AuthorizationResponseError) throw new NotGranted(name)
    if (error instanceof ServiceUnreachable) throw error
    throw new ServiceUnreachable(
      `${name} did not answer as it should when asked about what it grants: ${error instanceof Error ? error.message : 'no answer'}`,
      { passing: true },
    )
  }
}

const known = new Map<string, oauth.AuthorizationServer>()

const serverOf = async ({ address }: Service): Promise<oauth.AuthorizationServer> => {
  const found = known.get(address)
  if (found) return found
  const issuer = new URL(address)
  const server = await oauth.processDiscoveryResponse(
    issuer,
    await oauth.discoveryRequest(issuer, { ...options, algorithm: 'oauth2' }),
  )
  known.set(address, server)
  return server
}

const partiesOf = async (service: Service) => ({
  server: await serverOf(service),
  client: { client_id: service.program.id } satisfies oauth.Client,
  auth: oauth.ClientSecretBasic(service.program.secret),
})

/** The consent page of a service, for one state and verifier. @throws ServiceUnreachable */
export const consentAddress = (
  service: Service,
  asked: {
    readonly state: string
    readonly verifier: string
    readonly redirect: string
    readonly scopes: readonly string[]
  },
): Promise<string> =>
  telling(service, async () => {
    const { server, client } = await partiesOf(service)
    if (!server.authorization_endpoint) throw new Error('it has no consent page')
    const address = checkAddress(server.authorization_endpoint)
    const fields = {
      response_type: 'code',
      client_id: client.client_id,
      redirect_uri: asked.redirect,
      scope: asked.scopes.join(' '),
      state: asked.state,
      code_challenge: await oauth.calculatePKCECodeChallenge(asked.verifier),
      code_challenge_method: 'S256',
    }
    for (const [name, value] of Object.entries(fields)) address.searchParams.set(name, value)
    return address.href
  })

/** What proves that whoever comes back is who was sent. */
export const freshVerifier = (): string => oauth.generateRandomCodeVerifier()

const tokensOf = (answer: oauth.TokenEndpointResponse, before: string | null): Tokens => ({
  access: answer.access_token,
  accessUntil: Date.now() + (answer.expires_in ?? 300) * 1000,
  refresh: answer.refresh_token ?? before,
})

/** Turns what came back from the consent page into what was granted. @throws NotGranted where it was refused there; ServiceUnreachable */
export const redeem = (
  service: Service,
  back: {
    readonly parameters: URLSearchParams
    readonly state: string
    readonly verifier: string
    readonly redirect: string
  },
): Promise<Granted> =>
  telling(service, async () => {
    const { server, client, auth } = await partiesOf(service)
    const checked = oauth.validateAuthResponse(server, client, back.parameters, back.state)
    const answer = await oauth.processAuthorizationCodeResponse(
      server,
      client,
      await oauth.authorizationCodeGrantRequest(server, client, auth, checked, back.redirect, back.verifier, options),
    )
    const tokens = tokensOf(answer, null)
    const told =
      server.introspection_endpoint && tokens.refresh
        ? await oauth.processIntrospectionResponse(
            server,
            client,
            await oauth.introspectionRequest(server, client, auth, tokens.refresh, options),
          )
        : null
    return {
      tokens,
      scopes: (answer.scope ?? told?.scope ?? '').split(' ').filter(one => one !== ''),
      login: told?.username ?? '',
      until: told?.exp === undefined ? null : new Date(told.exp * 1000).toISOString(),
    }
  })

/** The next tokens. @throws NotGranted where what was granted has ended; ServiceUnreachable */
export const renewTokens = (service: Service, refresh: string): Promise<Tokens> =>
  telling(service, async () => {
    const { server, client, auth } = await partiesOf(service)
    const answer = await oauth.processRefreshTokenResponse(
      server,
      client,
      await oauth.refreshTokenGrantRequest(server, client, auth, refresh, options),
    )
    return tokensOf(answer, refresh)
  })

/** Tells a service that what it granted is not used any more; whether it heard. */
export const revoke = async (service: Service, refresh: string): Promise<boolean> => {
  try {
    const { server, client, auth } = await partiesOf(service)
    if (!server.revocation_endpoint) return false
    await oauth.processRevocationResponse(await oauth.revocationRequest(server, client, auth, refresh, options))
    return true
  } catch {
    return false
  }
}
