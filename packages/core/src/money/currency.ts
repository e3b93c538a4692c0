/** ISO 4217 active codes by number of minor-unit digits (list of 2024, funds codes left out but CLF, UYI, UYW). */
const codesByDigits: Readonly<Record<number, string>> = {
  0: 'BIF CLP DJF GNF ISK JPY KMF KRW PYG RWF UGX UYI VND VUV XAF XOF XPF',
  2: `AED AFN ALL AMD ANG AOA ARS AUD AWG AZN BAM BBD BDT BGN BMD BND BOB BRL BSD BTN BWP BYN BZD CAD CDF CHF CNY
    COP CRC CUP CVE CZK DKK DOP DZD EGP ERN ETB EUR FJD FKP GBP GEL GHS GIP GMD GTQ GYD HKD HNL HTG HUF IDR ILS INR
    IRR JMD KES KGS KHR KPW KYD KZT LAK LBP LKR LRD LSL MAD MDL MGA MKD MMK MNT MOP MRU MUR MVR MWK MXN MYR MZN NAD
    NGN NIO NOK NPR NZD PAB PEN PGK PHP PKR PLN QAR RON RSD RUB SAR SBD SCR SDG SEK SGD SHP SLE SOS SRD SSP STN SVC
    SYP SZL THB TJS TMT TOP TRY TTD TWD TZS UAH USD UYU UZS VED VES WST XCD XCG YER ZAR ZMW ZWG`,
  3: 'BHD IQD JOD KWD LYD OMR TND',
  4: 'CLF UYW',
}

const digitsByCode = new Map(
  Object.entries(codesByDigits).flatMap(([digits, codes]) =>
    codes.split(/\s+/).map(code => [code, Number(digits)] as const),
  ),
)

/** True for an ISO 4217 code that Culvert can keep books in. */
export const isCurrency = (code: string): boolean => digitsByCode.has(code)

/** Number of digits of the currency's minor unit: EUR 2, JPY 0, KWD 3. @throws RangeError if the code is unknown. */
export const currencyDigits = (currency: string): number => {
  const digits = digitsByCode.get(currency)
  if (digits === undefined) throw new RangeError(`unknown currency ${currency}`)
  return digits
}

/** Codes of the currencies whose minor unit has a number of digits. */
export const currenciesOf = (digits: number): readonly string[] =>
  [...digitsByCode].filter(([, own]) => own === digits).map(([code]) => code)
