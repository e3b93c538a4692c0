import type { Mail } from './mail.ts'

/** What letters need. */
export interface Letters {
  readonly mail: Mail
  /** Where people reach the application, without a path. */
  readonly origin: string
}
