import { Flex } from '@chakra-ui/react'
import type { Control, FieldPath, FieldValues } from 'react-hook-form'
import { SelectField, TextField } from '../ui/form/fields.tsx'
import { zoneNames, zoneText } from '../ui/zoneNames.ts'
import { countries } from './countries.ts'

const months = Array.from({ length: 12 }, (_, at) =>
  new Intl.DateTimeFormat('en', { month: 'long', timeZone: 'UTC' }).format(Date.UTC(2026, at, 1)),
)

interface Named<Values extends FieldValues> {
  // biome-ignore lint/suspicious/noExplicitAny: what a form makes of its values is nothing to its fields
  readonly control: Control<Values, any, any>
  readonly name: FieldPath<Values>
  readonly hint?: string
}

export const CountryField = <Values extends FieldValues>({ control, name, hint }: Named<Values>) => (
  <SelectField control={control} name={name} label="Country" hint={hint}>
    <option value="">not said</option>
    {countries.map(country => (
      <option key={country.code} value={country.code}>
        {country.name}
      </option>
    ))}
  </SelectField>
)

/** Where a day begins and ends for a client, and how its years and entries are counted. */
export const CalendarFields = <Values extends FieldValues>({
  control,
  names,
  hints = {},
}: {
  readonly control: Named<Values>['control']
  readonly names: Readonly<Record<'timeZone' | 'cutOff' | 'fiscalStart' | 'firstNumber', FieldPath<Values>>>
  readonly hints?: Readonly<Partial<Record<'day' | 'year', string>>>
}) => (
  <>
    <Flex gap="12px">
      <SelectField control={control} name={names.timeZone} label="Time zone" hint={hints.day}>
        {zoneNames.map(zone => (
          <option key={zone} value={zone}>
            {zoneText(zone)}
          </option>
        ))}
      </SelectField>
      <TextField
        control={control}
        name={names.cutOff}
        label="A business day ends at"
        placeholder="as 00:00"
        w="180px"
      />
    </Flex>
    <Flex gap="12px">
      <SelectField control={control} name={names.fiscalStart} label="The fiscal year begins in" hint={hints.year}>
        {months.map((month, at) => (
          <option key={month} value={at + 1}>
            {month}
          </option>
        ))}
      </SelectField>
      <TextField
        control={control}
        name={names.firstNumber}
        label="Its first entry is number"
        inputMode="numeric"
        w="180px"
      />
    </Flex>
  </>
)
