export {
  type ActivityLine,
  type RoutingValues,
  type RuleText,
  ruleTexts,
  type SettlementHead,
  type Status,
  statuses,
  type WeightedLine,
} from './activity/activityLine.ts'
export { countedBy, type DateBasis, dateBases } from './activity/dateBasis.ts'
export { fiscalYearOf } from './activity/fiscalYear.ts'
export { footingDifference } from './activity/footing.ts'
export {
  type AccountType,
  accountTypes,
  isKind,
  type Kind,
  kindNames,
  kinds,
  type StatementPart,
} from './activity/kinds.ts'
export {
  goesBack,
  isCollection,
  isPayout,
  isReserve,
  isStock,
  isSupply,
  isTaxKind,
  isTender,
  type KindTrait,
  kindTraitNames,
  kindTraits,
  namesGoods,
} from './activity/kindTraits.ts'
export {
  addDays,
  dateOfDay,
  dayNumber,
  daysBetween,
  isDate,
  lastDayOfMonth,
  monthOf,
  nextMonth,
} from './activity/localDate.ts'
export { type StatementFigures, statementFigures } from './activity/statementFigures.ts'
export { cutOffMinutes, isZone, type Zone, zoneOf } from './activity/zone.ts'
export type { Block, BlockReason } from './composing/blocks.ts'
export {
  type BookedActivity,
  type BookedSettlement,
  bookActivity,
} from './composing/bookActivity.ts'
export {
  addToBucket,
  type Bucket,
  type BucketSums,
  bucketKey,
  bucketOf,
  closeBucket,
  emptyBucket,
  taxSeen,
} from './composing/bucket.ts'
export { type Accrual, composeAccrual } from './composing/composeAccrual.ts'
export { type CodedLine, composeCoded } from './composing/composeCoded.ts'
export { composeCorrection } from './composing/composeCorrection.ts'
export { type ComposedCost, type CostAccounts, composeCost, type WithoutCost } from './composing/composeCost.ts'
export { type BookedDecision, composeDecision } from './composing/composeDecision.ts'
export { composeDispute, type DisputeDecision } from './composing/composeDispute.ts'
export { type Composed, composeSettlement, entryDateOf } from './composing/composeSettlement.ts'
export { type DocumentName, type DocumentTraits, documentNames, documents } from './composing/documents.ts'
export { type DraftEntry, type DraftLine, finishLines, mergeParts, type Part } from './composing/draft.ts'
export {
  carriedBase,
  carryTransfer,
  type ForeignBalance,
  type Revaluation,
  revalueBalances,
} from './composing/foreignClearing.ts'
export { lineKey, weightedLine } from './composing/lineKey.ts'
export { mergeLines } from './composing/mergeLines.ts'
export { mirrorEntry, mirrorLines } from './composing/mirrorEntry.ts'
export { type Allocation, monthParts } from './composing/monthParts.ts'
export { blockOfOpenOrders } from './composing/openSales.ts'
export { changeDays, taxPeriods } from './composing/periods.ts'
export {
  accountUsable,
  type LineBlock,
  type Resolution,
  resolveLine,
  taxedAs,
  tenderAccount,
} from './composing/resolveLine.ts'
export type { PayoutLine, SettlementActivity } from './composing/settlementActivity.ts'
export {
  bookedHere,
  entryDateOfLine,
  hasOddDates,
  notBefore,
  type PartHere,
  partBookedHere,
} from './composing/settlementDates.ts'
export {
  type Account,
  type BankRow,
  type DetailName,
  defaultOptions,
  defaultTiming,
  type Setup,
  type Source,
  type SourceOptions,
} from './composing/setup.ts'
export { type StatementFigure, statementRows } from './composing/statementRows.ts'
export {
  type HangingSums,
  type SupplySums,
  supplyPlace,
  supplySums,
} from './composing/supplyCheck.ts'
export { splitOverGoods, supplyParts } from './composing/supplyParts.ts'
export { type NotTakenBack, whyNotTakenBack } from './composing/takenBack.ts'
export {
  type Charged,
  type CodeCheck,
  chargedOf,
  checkTax,
  type LabelCheck,
  type TaxCheck,
} from './composing/taxCheck.ts'
export { bankRowFor, composeTransfer } from './composing/transfer.ts'
export { type ActivityColumn, activityColumns, readActivityRow } from './formats/activityRow.ts'
export { type BalanceColumn, balanceColumns, type ReportedBalance, readBalanceRow } from './formats/balanceRow.ts'
export {
  type BankChoice,
  type BankChoiceFault,
  type BankChoiceReader,
  type BankMeaning,
  bankChoiceReader,
  checkBankChoice,
  proposeBankChoice,
} from './formats/bankChoice.ts'
export {
  type BankColumn,
  type BankCorrection,
  type BankDetails,
  type BankLine,
  bankColumns,
  readBankRow,
} from './formats/bankRow.ts'
export { type CamtReader, camtReader, type StatementReach, type XmlEvent } from './formats/camtStatement.ts'
export { type ChartReader, chartReader, type ListedAccount } from './formats/chartRow.ts'
export { checkRate, type RateFault } from './formats/checkRate.ts'
export {
  type ChoiceFault,
  type ColumnChoice,
  type ColumnMeaning,
  checkChoice,
  choosableKinds,
  feeKindOf,
  mappingOf,
} from './formats/columnChoice.ts'
export {
  type AmountFrom,
  type ColumnMapping,
  checkColumnMapping,
  type FieldFrom,
  type MappingFault,
  type Movement,
} from './formats/columnMapping.ts'
export { columnMeanings } from './formats/columnMeanings.ts'
export { type Columns, readColumns, separatorOf } from './formats/columns.ts'
export {
  type ListedContact,
  type ListedOpenItem,
  readContactList,
  readOpenItemList,
} from './formats/contactRows.ts'
export { csvRecord } from './formats/csvRecord.ts'
export { type EntryRow, entriesCsv } from './formats/entriesCsv.ts'
export { expectedText, type FaultCode, FaultList, type FileFault, maxFaultsShown } from './formats/fault.ts'
export { parseInstant, type RowContext, RowFields, readRow } from './formats/fields.ts'
export {
  type DateOrder,
  dateOrders,
  isoTime,
  type NumberStyle,
  numberStyles,
  ordersThatRead,
  plainNumber,
  stylesThatRead,
} from './formats/foreignFields.ts'
export {
  type ListAsks,
  type ListedBalance,
  type ListedItem,
  type ListedTax,
  readBalanceList,
  readItemList,
  readRateList,
  readTaxList,
  referenceRates,
} from './formats/listRows.ts'
export { type MappedReader, mappedReader } from './formats/mappedRow.ts'
export { type Mt940Reader, mt940Reader } from './formats/mt940Statement.ts'
export { type OfxReader, ofxReader, sgmlEvents } from './formats/ofxStatement.ts'
export { ownFormats, sampleCsv, tableSchema } from './formats/ownFormats.ts'
export { plainCell } from './formats/plainCell.ts'
export { type ColumnQuestion, type ProposedChoice, proposeChoice } from './formats/proposeChoice.ts'
export { type ColumnProposal, proposeColumns } from './formats/proposeColumns.ts'
export type { SourceShape } from './formats/proposeKind.ts'
export {
  checkRowChoice,
  proposeRowChoice,
  type RowChoice,
  type RowReader,
  type RowsOf,
  rowChoiceReader,
  rowsOfHead,
} from './formats/rowChoice.ts'
export { RunningBalance } from './formats/runningBalance.ts'
export { readSettlementRow, type SettlementColumn, settlementColumns } from './formats/settlementRow.ts'
export { type StatementHead, StatementSum, statementDifference } from './formats/statementHead.ts'
export {
  type ClearingOwner,
  checkRoutes,
  type RouteContext,
  type RouteFault,
  type RouteWarning,
} from './mapping/checkRoutes.ts'
export { checkRules, type RuleFault } from './mapping/checkRules.ts'
export { compareText } from './mapping/compareText.ts'
export { type ContactSort, contactSorts } from './mapping/contactSort.ts'
export { type FoundNamed, forgetName, learnName, type NameBook, type Named, nameBook } from './mapping/findNamed.ts'
export { foldName, foldText } from './mapping/folded.ts'
export {
  foldSeen,
  isUnmapped,
  type NotedRoute,
  placeOfWeek,
  type SeenRow,
  type SeenWays,
  type SeenWeek,
} from './mapping/foldSeen.ts'
export { freeCode } from './mapping/freeCode.ts'
export { type GatewayLabels, gatewayOf } from './mapping/gatewayLabels.ts'
export { costOn, type Item } from './mapping/item.ts'
export { type ProductRoute, productRoutes, type SoldProduct } from './mapping/productRoutes.ts'
export { type ProposedContact, proposeContacts, type WantedContact } from './mapping/proposeContacts.ts'
export {
  type MissingAccount,
  type MissingRoute,
  type OpenLabel,
  proposeMissing,
} from './mapping/proposeMissing.ts'
export { proposeTaxCode, type TaxProposal } from './mapping/proposeTaxCode.ts'
export { type RouteBook, type RouteChoice, routeBook, serves, specificity } from './mapping/resolveRoute.ts'
export {
  type ConditionName,
  type Conditions,
  conditionNames,
  isChargeTo,
  type Route,
  type Segments,
  segmentsText,
} from './mapping/route.ts'
export {
  type AmountField,
  applyRules,
  countTouched,
  fieldsOf,
  meetsRule,
  type Rule,
  type RuleAction,
  type RuleCondition,
  type TextField,
  textFields,
} from './mapping/rule.ts'
export {
  type Proposal,
  type ProposalReason,
  proposeAccount,
  type SeenLabel,
  type StarterAccount,
  type StarterRoute,
  starterMap,
} from './mapping/starterMap.ts'
export { startingChart } from './mapping/startingCharts.ts'
export { currenciesOf, currencyDigits, isCurrency } from './money/currency.ts'
export { convertMinor, type ExchangeRate, rateOn } from './money/exchange.ts'
export { formatAmount } from './money/formatAmount.ts'
export { addFractions, type Fraction, multiplyFractions, parseFraction, zero } from './money/fraction.ts'
export { groupMark } from './money/groupMark.ts'
export { holds, isAmountText, plainText, withoutGroups } from './money/holds.ts'
export {
  addMinor,
  checkMinor,
  divideHalfAway,
  MinorOutOfRange,
  maxMinor,
  negateMinor,
  scaleMinor,
  sumMinor,
} from './money/minor.ts'
export { type AmountFault, type ParsedAmount, parseAmount } from './money/parseAmount.ts'
export { decimalMark, printAmount } from './money/printAmount.ts'
export { splitMinor } from './money/splitMinor.ts'
export { typedAmount } from './money/typedAmount.ts'
export { assignEqual } from './pairing/assignEqual.ts'
export {
  containsWords,
  isTellingReference,
  payerWording,
  proposeWording,
  readText,
  WordsIndex,
} from './pairing/bankWording.ts'
export { bestDisjoint, components, type Weighed, weigh } from './pairing/bestDisjoint.ts'
export { referenceDays } from './pairing/bindings.ts'
export { composeDifference, type Difference, type DifferenceDraft } from './pairing/composeDifference.ts'
export { type ExactGroupings, exactGroupings } from './pairing/exactGroupings.ts'
export {
  byDateAndId,
  type Grouping,
  lagDays,
  type OpenBankLine,
  type OpenTransfer,
  type PairingOptions,
} from './pairing/pairingItems.ts'
export type { Pairing, PairingEvidence, Sureness } from './pairing/pairings.ts'
export { type PairingProposal, proposePairings } from './pairing/proposePairings.ts'
export { type Applied, applyPayment, refundable } from './payments/applyPayment.ts'
export {
  type ActEvidence,
  type ActTable,
  actEvidence,
  type Decision,
  decideAct,
  type PaymentAct,
  type Readiness,
  usualActs,
} from './payments/decideAct.ts'
export { type DraftRow, type DraftSum, recorded, sumDraft } from './payments/draftBatch.ts'
export {
  type Customer,
  type CustomerCandidate,
  type CustomerEvidence,
  findCustomers,
  type Payer,
} from './payments/findCustomers.ts'
export {
  type Collection,
  findInvoices,
  type InvoiceCandidate,
  type InvoiceEvidence,
  type OpenInvoice,
} from './payments/findInvoices.ts'
export {
  type Receipt,
  type Refund,
  type RefundBatch,
  type RefundFault,
  refundBatches,
} from './payments/refundBatches.ts'
export { type DisputeMove, wonBack } from './payments/wonBack.ts'
export { ageLimits, ageOpen, openByAge } from './proof/ageing.ts'
export {
  alikePayouts,
  alikeTies,
  type NamedFact,
  type PayoutSeen,
  type TieSeen,
  tiesLookedDays,
} from './proof/findAlike.ts'
export { findDoubles, type StandingEntry } from './proof/findDoubles.ts'
export { findLeads, type Lead, type Movement as LedgerMovement } from './proof/findLeads.ts'
export { missingDays, missingNumbers } from './proof/findMissing.ts'
export type {
  DatedAmount,
  DocumentRef,
  HeadSeries,
  NamedAmount,
  ProofInput,
  ProofMovement,
  ProofPayout,
  ProofSettlement,
} from './proof/proofInput.ts'
export { type BookedMonth, proofOfBooked } from './proof/proofOfBooked.ts'
export {
  type BankCause,
  type BankProof,
  chainStatements,
  type ProofItems,
  type ProvingStatement,
  proveBank,
  type StatementGap,
} from './proof/proveBank.ts'
export {
  type Cause,
  type CauseDocument,
  causes,
  type Outcome,
  type Proof,
  type ProofCause,
  proveClearing,
  toBeMended,
} from './proof/proveClearing.ts'
export { checkTaxCodes, type TaxCodeFault, type TaxCodeWarning } from './tax/checkTaxCodes.ts'
export { taxOnTop, taxWithin } from './tax/computeTax.ts'
export { fewerRows } from './tax/fewerRows.ts'
export { type ClassBook, type ClassEntry, type ClassFault, checkClasses, classBook } from './tax/productClass.ts'
export { percentOf, proposeCode } from './tax/proposeCode.ts'
export { freeTaxCode, proposeRate } from './tax/proposeRate.ts'
export { type KeptRoute, type RowsOfRoutes, rowsOfRoutes, type UnlikeCell } from './tax/rowsOfRoutes.ts'
export {
  type BasketPart,
  type DatedLine,
  goesAlong,
  type SupplyBook,
  type SupplyFacts,
  supplyBook,
} from './tax/supply.ts'
export {
  componentWeights,
  isWhole,
  type RatesInForce,
  ratesInForce,
  type TaxBasis,
  type TaxCode,
  type TaxComponent,
  type TaxRate,
  type Treatment,
  treatments,
} from './tax/taxCode.ts'
export {
  type GridCell,
  type GridLine,
  type GridPlace,
  gridPeriods,
  isForeign,
  type SeenSupply,
  setCell,
  type TaxGrid,
  taxGrid,
} from './tax/taxGrid.ts'
export {
  checkTaxRows,
  noRegion,
  type TaxBook,
  type TaxChoice,
  type TaxCondition,
  type TaxedAs,
  type TaxRow,
  type TaxRowFault,
  taxBook,
  taxConditions,
} from './tax/taxRow.ts'
export { unlikeRates } from './tax/unlikeRates.ts'
export { awaitedChannels, type ChannelReach } from './tieout/awaitsChannel.ts'
export {
  type CandidateEvidence,
  type CandidateFinder,
  candidateFinder,
  type Proposal as TieProposal,
  proposeDecision,
  type TieCandidate,
} from './tieout/candidates.ts'
export {
  bookedLine,
  type DecisionSort,
  decidedLine,
  decisionSorts,
  decisionsOn,
  type MayWriteOff,
  movedByDecision,
} from './tieout/decisions.ts'
export {
  type MatchEvidence,
  matchEvidence,
  matchTenders,
  type TenderMatch,
  type TiedByHand,
} from './tieout/matchTenders.ts'
export { daysOfGrace, type OneSided, type OneSidedItem, oneSided, type UnknownLabel } from './tieout/oneSided.ts'
export {
  type OpenOrder,
  openOrderDays,
  openOrderLimit,
} from './tieout/openOrders.ts'
export { type TieOutLine, tieOutLines } from './tieout/tieOutLine.ts'
