import { seal, sealedSchema, unseal } from '../access/keyring.ts'
import { type Credentials, credentialsSchema } from './outsideService.ts'

/** Where a grant stands: of which client, and of which source or bank account. It is bound into what is sealed. */
export interface GrantPlace {
  readonly of: 'source' | 'bank'
  readonly clientId: number
  readonly key: string
}

const placeOf = ({ of, clientId, key }: GrantPlace): string => `${of} ${clientId} ${key}`

/** A grant as it is kept: sealed, as JSON. */
export const sealGrant = (credentials: Credentials, place: GrantPlace): string =>
  JSON.stringify(seal(credentials, placeOf(place)))

/** Opens a grant; one of before grants were sealed is taken as it stands, until the next start seals it. @throws CannotUnseal */
export const openGrant = (kept: unknown, place: GrantPlace): Credentials => {
  const sealed = sealedSchema.safeParse(kept)
  return credentialsSchema.parse(sealed.success ? unseal(sealed.data, placeOf(place)) : kept)
}
