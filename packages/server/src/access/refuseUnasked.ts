import { AddressNotAsked, checkAddress } from './guardedFetch.ts'
import { Refused } from './refused.ts'

/** @throws Refused where an address that somebody typed is not to be asked */
export const refuseUnasked = (address: string): void => {
  try {
    checkAddress(address)
  } catch (error) {
    throw error instanceof AddressNotAsked ? new Refused('address_not_asked', { why: error.message }) : error
  }
}
