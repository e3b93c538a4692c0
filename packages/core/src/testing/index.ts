/** Made data for tests and the bench: never imported by the product. */
export { type DepositTruth, holdAgainstTruth, makeDeposits, type TruthFigures } from './depositTruth.ts'
