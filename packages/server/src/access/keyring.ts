import { createCipheriv, createDecipheriv, createHash, randomBytes } from 'node:crypto'
import { z } from 'zod'
import { secretFor } from './secrets.ts'

const environment = z.object({
  /** What secrets are made of; absent: the application’s own password of the database. */
  CULVERT_SECRET: z.string().min(32).optional(),
  /** Secrets of before, separated by commas: what was made with them is still read. */
  CULVERT_FORMER_SECRETS: z.string().default(''),
  APP_DATABASE_URL: z.string().optional(),
})

interface Key {
  /** Names the key without telling it. */
  readonly id: string
  readonly secret: string
}

const keyOf = (secret: string): Key => ({
  id: createHash('sha256').update(`culvert key ${secret}`).digest('hex').slice(0, 8),
  secret,
})

let known: readonly Key[] | null = null

/** The secrets that the application is given: that of now first. None of them stands in the database. @throws Error where there is none */
export const keyring = (): readonly [Key, ...Key[]] => {
  if (known === null) {
    const { CULVERT_SECRET, CULVERT_FORMER_SECRETS, APP_DATABASE_URL } = environment.parse(process.env)
    // Every process that knows the database’s password comes to the same, without any of it being stored.
    const current = CULVERT_SECRET ?? (APP_DATABASE_URL === undefined ? '' : new URL(APP_DATABASE_URL).password)
    known = [current, ...CULVERT_FORMER_SECRETS.split(',')]
      .map(one => one.trim())
      .filter(one => one !== '')
      .map(keyOf)
  }
  const [current, ...former] = known
  if (!current) throw new Error('neither CULVERT_SECRET nor a password of the application is known')
  return [current, ...former]
}

/** Gives other secrets, that of now first; for tests, and for whoever changes them. */
export const setKeyring = (secrets: readonly string[] | null): void => {
  known = secrets?.map(keyOf) ?? null
}

/** A key of one purpose, by its name; null where it is not known any more. */
export const keyNamed = (id: string, purpose: string): string | null => {
  const key = keyring().find(one => one.id === id)
  return key ? secretFor(key.secret, purpose) : null
}

/** The key of now for a purpose. */
export const keyNow = (purpose: string): { readonly id: string; readonly secret: string } => {
  const [{ id, secret }] = keyring()
  return { id, secret: secretFor(secret, purpose) }
}

export const sealedSchema = z.object({
  key: z.string(),
  iv: z.base64(),
  tag: z.base64(),
  data: z.base64(),
})
export type Sealed = z.infer<typeof sealedSchema>

/** What cannot be opened: its key is gone, or it was changed. */
export class CannotUnseal extends Error {
  override readonly name = 'CannotUnseal'
}

/**
 * Seals a value (AES-256-GCM, a fresh 96-bit nonce each time) for one place: `place` is bound into it, so that what is sealed for one row cannot be
 * put into another.
 */
export const seal = (value: unknown, place: string): Sealed => {
  const { id, secret } = keyNow('sealed')
  const iv = randomBytes(12)
  const cipher = createCipheriv('aes-256-gcm', Buffer.from(secret, 'hex'), iv)
  cipher.setAAD(Buffer.from(place))
  const data = Buffer.concat([cipher.update(JSON.stringify(value), 'utf8'), cipher.final()])
  return {
    key: id,
    iv: iv.toString('base64'),
    tag: cipher.getAuthTag().toString('base64'),
    data: data.toString('base64'),
  }
}

/** Opens what was sealed for a place. @throws CannotUnseal */
export const unseal = ({ key, iv, tag, data }: Sealed, place: string): unknown => {
  const secret = keyNamed(key, 'sealed')
  if (secret === null) throw new CannotUnseal(`sealed with a secret that is not given (key ${key})`)
  try {
    const decipher = createDecipheriv('aes-256-gcm', Buffer.from(secret, 'hex'), Buffer.from(iv, 'base64'), {
      authTagLength: 16,
    })
    decipher.setAAD(Buffer.from(place))
    decipher.setAuthTag(Buffer.from(tag, 'base64'))
    const opened = Buffer.concat([decipher.update(Buffer.from(data, 'base64')), decipher.final()])
    return JSON.parse(opened.toString('utf8')) as unknown
  } catch (cause) {
    throw new CannotUnseal('what is sealed was changed, or is of another place', { cause })
  }
}
