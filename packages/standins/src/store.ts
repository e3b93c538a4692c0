import { existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { z } from 'zod'

const row = z.record(z.string(), z.string())
export type Row = z.infer<typeof row>

export const marketplace = z.object({
  key: z.string(),
  secret: z.string(),
  lines: z.array(row),
  settlements: z.array(row),
  balances: z.array(row),
})
export type Marketplace = z.infer<typeof marketplace>
export const bank = z.object({
  accounts: z.record(z.string(), z.array(row)),
  /** Keys that were given out, each for some of the accounts. */
  grants: z.array(z.object({ key: z.string(), secret: z.string(), accounts: z.array(z.string()) })).default([]),
})
export type Bank = z.infer<typeof bank>

/** What the stand-ins know, kept in files of their own folder. */
export interface Store {
  marketplace(name: string): Marketplace | null
  bank(name: string): Bank | null
  keep(sort: 'marketplace' | 'bank', name: string, content: Marketplace | Bank): void
}

export const openStore = (folder: string): Store => {
  // Keys stand in its files: they are the owner's alone.
  mkdirSync(folder, { recursive: true, mode: 0o700 })
  const known = new Map<string, unknown>()
  const path = (sort: string, name: string) => join(folder, `${sort}-${name.replace(/[^a-z0-9-]/g, '_')}.json`)
  const read = <Content>(sort: string, name: string, schema: z.ZodType<Content>): Content | null => {
    const file = path(sort, name)
    if (!known.has(file))
      known.set(file, existsSync(file) ? schema.parse(JSON.parse(readFileSync(file, 'utf8'))) : null)
    return known.get(file) as Content | null
  }
  return {
    marketplace: name => read('marketplace', name, marketplace),
    bank: name => read('bank', name, bank),
    keep: (sort, name, content) => {
      const file = path(sort, name)
      known.set(file, content)
      writeFileSync(`${file}.new`, JSON.stringify(content), { mode: 0o600 })
      renameSync(`${file}.new`, file)
    },
  }
}
