/** What is usual in a country: its currency, how it writes, and the zone that most of it lives in. */
interface CountryFacts {
  readonly base: string
  readonly locale: string
  readonly timeZone: string
}

const rows = `
IE EUR en-IE Europe/Dublin
GB GBP en-GB Europe/London
US USD en-US America/New_York
CA CAD en-CA America/Toronto
AU AUD en-AU Australia/Sydney
NZ NZD en-NZ Pacific/Auckland
DE EUR de-DE Europe/Berlin
AT EUR de-AT Europe/Vienna
CH CHF de-CH Europe/Zurich
LI CHF de-LI Europe/Vaduz
FR EUR fr-FR Europe/Paris
BE EUR nl-BE Europe/Brussels
LU EUR fr-LU Europe/Luxembourg
NL EUR nl-NL Europe/Amsterdam
ES EUR es-ES Europe/Madrid
IT EUR it-IT Europe/Rome
PT EUR pt-PT Europe/Lisbon
DK DKK da-DK Europe/Copenhagen
SE SEK sv-SE Europe/Stockholm
NO NOK nb-NO Europe/Oslo
FI EUR fi-FI Europe/Helsinki
PL PLN pl-PL Europe/Warsaw
CZ CZK cs-CZ Europe/Prague
SK EUR sk-SK Europe/Bratislava
HU HUF hu-HU Europe/Budapest
SI EUR sl-SI Europe/Ljubljana
HR EUR hr-HR Europe/Zagreb
GR EUR el-GR Europe/Athens
EE EUR et-EE Europe/Tallinn
LV EUR lv-LV Europe/Riga
LT EUR lt-LT Europe/Vilnius
MT EUR en-MT Europe/Malta
CY EUR el-CY Asia/Nicosia
RO RON ro-RO Europe/Bucharest
BG EUR bg-BG Europe/Sofia
IS ISK is-IS Atlantic/Reykjavik
JP JPY ja-JP Asia/Tokyo
SG SGD en-SG Asia/Singapore
ZA ZAR en-ZA Africa/Johannesburg
MX MXN es-MX America/Mexico_City
`
  .trim()
  .split('\n')
  .map(row => row.split(' ') as [string, string, string, string])

const facts = new Map(
  rows.map(([code, base, locale, timeZone]): [string, CountryFacts] => [code, { base, locale, timeZone }]),
)

/** What is usual in a country; null for one that nothing is known of. */
export const usualIn = (country: string): CountryFacts | null => facts.get(country) ?? null

/** Countries by their English names. */
export const countries: readonly { readonly code: string; readonly name: string }[] = (() => {
  const names = new Intl.DisplayNames(['en'], { type: 'region' })
  return [...facts.keys()]
    .map(code => ({ code, name: names.of(code) ?? code }))
    .sort((left, right) => (left.name < right.name ? -1 : 1))
})()
