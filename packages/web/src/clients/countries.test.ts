import { isCurrency, isZone } from '@culvert/core'
import { expect, it } from 'vitest'
import { countries, usualIn } from './countries.ts'

it('what is usual in each country exists, and its numbers can be written', () => {
  for (const { code, name } of countries) {
    const usual = usualIn(code)
    expect([name, usual && isCurrency(usual.base), usual && isZone(usual.timeZone)]).toEqual([name, true, true])
    expect(Intl.NumberFormat.supportedLocalesOf(usual?.locale ?? '')).toHaveLength(1)
  }
})

it('of a country that is not known nothing is usual', () => expect(usualIn('XX')).toBeNull())
