import { keepOrla } from './signIn.ts'

/** Orla signs in once; each test's browser begins as hers. */
export default async (): Promise<void> => {
  await keepOrla()
}
