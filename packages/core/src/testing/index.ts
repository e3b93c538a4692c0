/** Made data for tests and the bench: never imported by the product. */
export { type DepositTruth, groupName, holdAgainstTruth, makeDeposits, type TruthFigures } from './depositTruth.ts'
export { type Harshness, type HarshTruth, makeHarshDeposits } from './harshDeposits.ts'
export { madeMonths, madeOptions, seed } from './madeMonths.ts'
export { madeRoute, madeRoutes, madeSetup } from './madeSetup.ts'
export { monthsThatGoBack, withTaxRows } from './madeSupplies.ts'
export { heldAt } from './provedMonth.ts'
