import { seal, sealedSchema, unseal } from '../access/keyring.ts'
import { type Credentials, credentialsSchema } from './outsideService.ts'

/** Where something sealed stands: of which client, and of which source, bank account or grant. It is bound into what is sealed. */
export interface SealedPlace {
  readonly of: 'source' | 'bank' | 'tokens' | 'verifier'
  readonly clientId: number
  readonly key: string
}

const placeOf = ({ of, clientId, key }: SealedPlace): string => `${of} ${clientId} ${key}`

/** Something as it is kept: sealed, as JSON. */
export const sealAt = (value: unknown, place: SealedPlace): string => JSON.stringify(seal(value, placeOf(place)))

/** Opens what is kept; what stands from before grants were sealed is taken as it is, until the next start seals it. @throws CannotUnseal */
export const openAt = (kept: unknown, place: SealedPlace): unknown => {
  const sealed = sealedSchema.safeParse(kept)
  return sealed.success ? unseal(sealed.data, placeOf(place)) : kept
}

/** Opens the key of a service. @throws CannotUnseal */
export const openGrant = (kept: unknown, place: SealedPlace): Credentials =>
  credentialsSchema.parse(openAt(kept, place))
