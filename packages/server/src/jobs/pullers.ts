import type { Actor, Database } from '../database/connect.ts'
import type { Jobs } from './boss.ts'

/** What a stage can pull of a client: by which names, and how one begins. */
export interface Puller {
  of(database: Database, actor: Actor): Promise<readonly { readonly key: string; readonly name: string }[]>
  start(database: Database, jobs: Jobs, actor: Actor, key: string): Promise<string>
}
export type Pullers = readonly Puller[]
