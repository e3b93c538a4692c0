import { readFileSync, statSync } from 'node:fs'
import { connectableSorts } from '@culvert/contract'
import { z } from 'zod'
import { Refused } from '../access/refused.ts'

const serviceSchema = z.object({
  key: z.string().regex(/^[a-z][a-z0-9-]{0,40}$/),
  name: z.string().min(1).max(100),
  sort: z.enum(connectableSorts),
  reports: z.string().max(200).default(''),
  /** Its issuer: where its authorization server tells of itself (RFC 8414), and its data is asked. */
  address: z.url({ protocol: /^https?$/ }),
  /** As what this installation is known there. */
  program: z.object({
    id: z.string().min(1),
    secret: z.string().min(1),
    /** With which its news are signed; absent: none are taken. */
    hookSecret: z.string().startsWith('whsec_').optional(),
  }),
})
/** A service that can be connected. */
export type Service = z.infer<typeof serviceSchema>
const directorySchema = z.array(serviceSchema)

const environment = z.object({
  /** A file of JSON: the services that this installation is registered with. */
  CULVERT_SERVICES: z.string().optional(),
})

let read: { readonly path: string; readonly changed: number; readonly services: readonly Service[] } | null = null
let told: readonly Service[] | null = null

/** Says which services there are, in the place of the file; for tests. */
export const setServices = (services: readonly Service[] | null): void => {
  told = services
}

/** The services that can be connected, by name: read anew where the file has changed. None where no file is given, or it is not there yet. @throws Error where it is none of services */
export const services = (): readonly Service[] => {
  if (told) return told
  const path = environment.parse(process.env).CULVERT_SERVICES
  const stat = path === undefined ? undefined : statSync(path, { throwIfNoEntry: false })
  if (path === undefined || !stat) return []
  if (read?.path !== path || read.changed !== stat.mtimeMs)
    read = {
      path,
      changed: stat.mtimeMs,
      services: directorySchema
        .parse(JSON.parse(readFileSync(path, 'utf8')))
        .sort((left, right) => (left.name < right.name ? -1 : 1)),
    }
  return read.services
}

/** A service by its key. @throws Refused where it cannot be connected, or not any more */
export const serviceNamed = (key: string): Service => {
  const service = services().find(one => one.key === key)
  if (!service) throw new Refused('service_unknown', { service: key })
  return service
}
