import { existsSync, mkdirSync, readdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { z } from 'zod'

const row = z.record(z.string(), z.string())
export type Row = z.infer<typeof row>
const key = z.object({ key: z.string(), secret: z.string() })

const shop = z.object({
  name: z.string(),
  place: z.string().default(''),
  country: z.string().default(''),
  currency: z.string().default(''),
  taxNumber: z.string().default(''),
  lines: z.array(row),
  settlements: z.array(row).default([]),
  balances: z.array(row).default([]),
  /** Of a company of a ledger: its lists, by name. */
  lists: z.record(z.string(), z.array(row)).default({}),
  /** Keys that were given out for this shop alone, beside any consent. */
  keys: z.array(key).default([]),
})
export type Shop = z.infer<typeof shop>

export const service = z.object({
  name: z.string(),
  /** What sort it is, as people call it: `marketplace`. */
  sort: z.string(),
  /** What it tells, in a few words. */
  reports: z.string().default(''),
  shops: z.record(z.string(), shop),
  /** Who signs in, and which of its shops that person may see. */
  logins: z.array(z.object({ name: z.string(), shops: z.array(z.string()) })).default([]),
})
export type Service = z.infer<typeof service>

export const bank = z.object({
  accounts: z.record(z.string(), z.array(row)),
  /** Keys that were given out, each for some of the accounts. */
  grants: z.array(key.extend({ accounts: z.array(z.string()) })).default([]),
})
export type Bank = z.infer<typeof bank>

/** What somebody who signed in has let a program do. */
const grant = z.object({
  id: z.string(),
  service: z.string(),
  login: z.string(),
  client: z.string(),
  scopes: z.array(z.string()),
  refresh: z.string(),
  /** Good until the one after it was used: an answer can be lost on the way. */
  formerRefresh: z.string().nullable(),
  /** Milliseconds since 1970. */
  grantedAt: z.number(),
  until: z.number(),
  /** Where the program is told of news. */
  hook: z.string(),
})
export type Grant = z.infer<typeof grant>
const grants = z.array(grant)

/** What the stand-ins know, kept in files of their own folder. */
export interface Store {
  services(): string[]
  service(name: string): Service | null
  bank(name: string): Bank | null
  grants(): readonly Grant[]
  keepService(name: string, content: Service): void
  keepBank(name: string, content: Bank): void
  keepGrants(content: readonly Grant[]): void
}

export const openStore = (folder: string): Store => {
  // Keys stand in its files: they are the owner's alone.
  mkdirSync(folder, { recursive: true, mode: 0o700 })
  const known = new Map<string, unknown>()
  const path = (sort: string, name: string) => join(folder, `${sort}-${name.replace(/[^a-z0-9-]/g, '_')}.json`)
  const read = <Content>(file: string, schema: z.ZodType<Content>): Content | null => {
    if (!known.has(file))
      known.set(file, existsSync(file) ? schema.parse(JSON.parse(readFileSync(file, 'utf8'))) : null)
    return known.get(file) as Content | null
  }
  const keep = (file: string, content: unknown): void => {
    known.set(file, content)
    writeFileSync(`${file}.new`, JSON.stringify(content), { mode: 0o600 })
    renameSync(`${file}.new`, file)
  }
  const grantFile = path('grants', 'all')
  return {
    services: () =>
      readdirSync(folder)
        .flatMap(file => /^service-([a-z0-9-]+)\.json$/.exec(file)?.[1] ?? [])
        .sort(),
    service: name => read(path('service', name), service),
    bank: name => read(path('bank', name), bank),
    grants: () => read(grantFile, grants) ?? [],
    keepService: (name, content) => keep(path('service', name), content),
    keepBank: (name, content) => keep(path('bank', name), content),
    keepGrants: content => keep(grantFile, content),
  }
}
