import type { Right, Role } from '@culvert/contract'

export const roleWords: Record<Role, string> = {
  owner: 'owner',
  bookkeeper: 'bookkeeper',
  junior: 'junior',
  accountant: 'accountant',
  guest: 'guest',
}

/** What a role lets one do, in a line. */
export const roleDoes: Record<Role, string> = {
  owner: 'everything, of all clients, and says who may do what',
  bookkeeper: 'everything but people',
  junior: 'brings in, maps and pairs; does not post or lock',
  accountant: 'reads, and marks tax periods as filed',
  guest: 'of a client: sees what they are asked',
}

export const rightWords: Partial<Record<Right, string>> = {
  take_on: 'take clients on',
  read: 'read',
  bring: 'bring in activity and statements',
  connect: 'connect sources',
  map: 'change the map',
  settle: 'set aside and take up',
  pair: 'pair and decide payments',
  post: 'post and take back',
  close: 'lock months',
  file: 'file tax periods',
}
