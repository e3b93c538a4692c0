import type { ClassFault, RouteFault, RuleFault, TaxCodeFault, TaxRowFault } from '@culvert/core'
import type { MapFaults } from './mapRefused.ts'

/** All faults of a refused part of the map, for a person. */
export const mapFaultText = (found: MapFaults): string => {
  switch (found.of) {
    case 'routes':
      return found.faults.map(routeFaultText).join('; ')
    case 'rules':
      return found.faults.map(fault => `rule ${fault.rule}: ${ruleFaultText(fault)}`).join('; ')
    case 'taxCodes':
      return found.faults.map(fault => `tax code ${fault.taxCode}: ${taxCodeFaultText(fault)}`).join('; ')
    case 'taxRows':
      return found.faults.map(taxRowFaultText).join('; ')
    case 'classes':
      return found.faults.map(classFaultText).join('; ')
  }
}

const routeFaultText = (fault: RouteFault): string => {
  switch (fault.code) {
    case 'alike':
      return `routes ${fault.other} and ${fault.route} serve the same lines from the same date; change or remove one`
    case 'unknown_account':
      return `account ${fault.account} does not exist or is archived`
    case 'no_account':
      return 'a route needs an account'
    case 'unknown_tax_code':
      return `tax code ${fault.taxCode} does not exist`
    case 'unknown_item':
      return `item ${fault.item} does not exist`
    case 'own_clearing':
      return `${fault.account} is ${fault.source}’s own clearing account: what is sent there cancels what the entry books on it, and the account can never be proved`
  }
}

const taxRowFaultText = (fault: TaxRowFault): string => {
  switch (fault.code) {
    case 'alike':
      return `tax rows ${fault.other + 1} and ${fault.row + 1} serve the same supplies from the same date; change or remove one`
    case 'unknown_tax_code':
      return `tax code ${fault.taxCode} does not exist`
    case 'no_supply':
      return `lines of the kind ${fault.kind} are no supplies: their route decides their tax code`
  }
}

const classFaultText = (fault: ClassFault): string => {
  switch (fault.code) {
    case 'alike':
      return `classes ${fault.other + 1} and ${fault.entry + 1} are of the same goods; change or remove one`
    case 'names_one':
      return `class ${fault.entry + 1} names a SKU or a category, one of the two`
  }
}

const ruleFaultText = (fault: RuleFault): string => {
  switch (fault.code) {
    case 'id_twice':
      return 'two rules have this number'
    case 'unknown_account':
      return `account ${fault.account} does not exist or is archived`
    case 'unknown_tax_code':
      return `tax code ${fault.taxCode} does not exist`
    case 'never_met':
      return 'no line can ever meet its conditions'
    case 'no_conditions':
      return 'without a condition it would meet every line'
    case 'no_actions':
      return 'it does nothing'
    case 'clearing_account':
      return `${fault.account} is a clearing account; only tenders may be sent there, so ask for the kind tender too`
  }
}

const taxCodeFaultText = (fault: TaxCodeFault): string => {
  switch (fault.code) {
    case 'twice':
      return 'it is there twice'
    case 'no_components':
      return 'it is taxed, and no component says at which rate and to which account'
    case 'taxes_untaxed':
      return 'it bears no tax by its treatment, and has a rate above zero'
    case 'unknown_account':
      return `account ${fault.account} does not exist`
    case 'no_input_account':
      return 'reverse charge needs an account for the input side'
    case 'compound_first':
      return 'its first component is compound, and nothing stands before it'
    case 'no_rates':
      return 'a component has no rate'
    case 'bad_rate':
      return `“${fault.percent}” from ${fault.from} is no rate in percent from a date`
    case 'recovery_of_sales':
      return 'only tax of purchases, or by reverse charge, can be taken back'
    case 'bad_recovery':
      return `“${fault.percent}” from ${fault.from} is no share between 0 and 100 percent from a date`
    case 'recovery_twice':
      return `two shares are taken back from ${fault.from}`
    case 'rate_twice':
      return `two rates of one component begin on ${fault.from}`
  }
}
