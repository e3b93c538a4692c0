import { actEndpoints } from './acts.ts'
import { bankEndpoints } from './bank.ts'
import { bookEndpoints } from './books.ts'
import { clearingEndpoints } from './clearing.ts'
import { clientEndpoints } from './clients.ts'
import { closeEndpoints } from './close.ts'
import { consentEndpoints } from './consents.ts'
import { fileEndpoints } from './files.ts'
import { grantEndpoints } from './grants.ts'
import { jobEndpoints } from './jobs.ts'
import { listEndpoints } from './lists.ts'
import { mappingEndpoints } from './mapping.ts'
import { missingEndpoints } from './missing.ts'
import { noteEndpoints } from './notes.ts'
import { paymentEndpoints } from './payments.ts'
import { peopleEndpoints } from './people.ts'
import { personalDataEndpoints } from './personalData.ts'
import { settlementEndpoints } from './settlements.ts'
import { sourceEndpoints } from './sources.ts'
import { taxEndpoints } from './tax.ts'

/** All that the server can be asked, by stage. */
export const endpointsByStage = {
  people: peopleEndpoints,
  acts: actEndpoints,
  notes: noteEndpoints,
  consents: consentEndpoints,
  personalData: personalDataEndpoints,
  clients: clientEndpoints,
  files: fileEndpoints,
  jobs: jobEndpoints,
  lists: listEndpoints,
  sources: sourceEndpoints,
  grants: grantEndpoints,
  mapping: mappingEndpoints,
  missing: missingEndpoints,
  tax: taxEndpoints,
  settlements: settlementEndpoints,
  payments: paymentEndpoints,
  clearing: clearingEndpoints,
  bank: bankEndpoints,
  books: bookEndpoints,
  close: closeEndpoints,
} as const

/** The same by name: names are one of a kind. */
export const endpoints = {
  ...peopleEndpoints,
  ...fileEndpoints,
  ...actEndpoints,
  ...noteEndpoints,
  ...consentEndpoints,
  ...personalDataEndpoints,
  ...clientEndpoints,
  ...jobEndpoints,
  ...listEndpoints,
  ...sourceEndpoints,
  ...grantEndpoints,
  ...mappingEndpoints,
  ...missingEndpoints,
  ...taxEndpoints,
  ...settlementEndpoints,
  ...paymentEndpoints,
  ...clearingEndpoints,
  ...bankEndpoints,
  ...bookEndpoints,
  ...closeEndpoints,
} as const
