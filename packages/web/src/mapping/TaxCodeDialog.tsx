import { Box, Button, Flex } from '@chakra-ui/react'
import type { TaxCodeRow } from '@culvert/contract'
import { type Control, useFieldArray, useWatch } from 'react-hook-form'
import { useClient } from '../context/ClientContext.tsx'
import { CheckField, DateField, SelectField, TextField } from '../ui/form/fields.tsx'
import { useSchemaForm } from '../ui/form/useSchemaForm.ts'
import { Modal } from '../ui/Modal.tsx'
import { useNotice } from '../ui/Notice.tsx'
import { useMappingActs } from './mappingQueries.ts'
import { canTakeBack, inputOf, type TaxCodeInput, taxCodeForm } from './taxCodeForm.ts'

export const treatmentWords: Readonly<Record<TaxCodeRow['treatment'], string>> = {
  taxed: 'taxed',
  zero: 'zero rate',
  exempt: 'exempt',
  outside: 'outside the scope',
  withheld: 'withheld by the marketplace',
}
const basisWords = { inclusive: 'within the price', exclusive: 'beside the price', none: 'none' }
const useWords = { sales: 'sales', purchases: 'purchases' }

type AccountChoice = { readonly code: string; readonly name: string; readonly type: string }
const taxTypes = new Set(['tax', 'current_liability', 'current_asset'])
type CodeControl = Control<TaxCodeInput, unknown, TaxCodeRow>

interface TaxCodeDialogProps {
  readonly draft: TaxCodeRow
  readonly accounts: readonly AccountChoice[]
  /** Of the map that it is made from. */
  readonly version: number
  readonly onClose: () => void
}

/** Writes a tax code: what it is for, and each component with its account and its rates by date. */
export const TaxCodeDialog = ({ draft, accounts, version, onClose }: TaxCodeDialogProps) => {
  const { clientId } = useClient()
  const { saveTaxCodes } = useMappingActs(clientId)
  const notice = useNotice()
  const form = useSchemaForm(taxCodeForm, inputOf(draft), { grows: true })
  const { control } = form
  const [use, reverseCharge] = useWatch({ control, name: ['use', 'reverseCharge'] })
  const store = form.handleSubmit(code =>
    saveTaxCodes.mutate({ codes: [code], version }, { onSuccess: onClose, onError: notice.refuse }),
  )
  return (
    <Modal
      open
      onSubmit={() => void store()}
      changed={form.formState.isDirty}
      onClose={onClose}
      title={draft.code ? `Tax code ${draft.code}` : 'Add a tax code'}
      foot={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="solid" disabled={saveTaxCodes.isPending}>
            Save tax code
          </Button>
        </>
      }
    >
      <Flex gap="12px" mb="10px">
        <TextField control={control} name="code" label="Code" w="110px" disabled={draft.code !== ''} />
        <TextField control={control} name="name" label="Name" />
        <TextField control={control} name="country" label="Country" w="90px" />
      </Flex>
      <Flex gap="12px" mb="10px">
        <WordField control={control} name="treatment" label="Treatment" words={treatmentWords} />
        <WordField control={control} name="basis" label="Basis" words={basisWords} />
        <WordField control={control} name="use" label="Use" words={useWords} />
      </Flex>
      <Box mb="10px">
        <CheckField control={control} name="reverseCharge" label="Reverse charge: owed and claimed at once" />
      </Box>
      <Components control={control} accounts={accounts.filter(account => taxTypes.has(account.type))} />
      {canTakeBack({ use, reverseCharge }) ? <Recovery control={control} /> : null}
    </Modal>
  )
}

interface WordFieldProps {
  readonly control: CodeControl
  readonly name: 'treatment' | 'basis' | 'use'
  readonly label: string
  readonly words: Readonly<Record<string, string>>
}

const WordField = ({ words, ...field }: WordFieldProps) => (
  <SelectField {...field}>
    {Object.entries(words).map(([one, said]) => (
      <option key={one} value={one}>
        {said}
      </option>
    ))}
  </SelectField>
)

interface ComponentsProps {
  readonly control: CodeControl
  readonly accounts: readonly AccountChoice[]
}

const Components = ({ control, accounts }: ComponentsProps) => {
  const { fields, append, remove } = useFieldArray({ control, name: 'components' })
  return (
    <>
      {fields.map((field, place) => (
        <ComponentFields
          key={field.id}
          control={control}
          place={place}
          accounts={accounts}
          onRemove={() => remove(place)}
        />
      ))}
      <Button
        variant="plain"
        onClick={() =>
          append({
            name: '',
            account: accounts.find(account => account.type === 'tax')?.code ?? '',
            inputAccount: null,
            compound: false,
            rates: [{ from: '2020-01-01', percent: '' }],
          })
        }
      >
        Add a component
      </Button>
    </>
  )
}

interface ComponentFieldsProps extends ComponentsProps {
  readonly place: number
  readonly onRemove: () => void
}

const ComponentFields = ({ control, place, accounts, onRemove }: ComponentFieldsProps) => {
  const at = `components.${place}` as const
  const rates = useFieldArray({ control, name: `${at}.rates` })
  const reverseCharge = useWatch({ control, name: 'reverseCharge' })
  const choices = accounts.map(account => (
    <option key={account.code} value={account.code}>
      {account.code} {account.name}
    </option>
  ))
  return (
    <Box borderLeftWidth="2px" borderColor="hairline" pl="10px" mb="10px">
      <Flex gap="12px" mb="8px">
        <TextField control={control} name={`${at}.name`} label="Component" w="110px" />
        <SelectField control={control} name={`${at}.account`} label="Account">
          <option value="">choose an account</option>
          {choices}
        </SelectField>
        {reverseCharge ? (
          <SelectField control={control} name={`${at}.inputAccount`} label="Claimed on">
            <option value="">choose an account</option>
            {choices}
          </SelectField>
        ) : null}
      </Flex>
      {rates.fields.map((rate, index) => (
        <Dated
          key={rate.id}
          control={control}
          at={`${at}.rates.${index}`}
          label="Rate, %"
          onRemove={rates.fields.length > 1 ? () => rates.remove(index) : null}
        />
      ))}
      <Flex gap="12px" align="center" wrap="wrap">
        <Button variant="plain" onClick={() => rates.append({ from: '', percent: '' })}>
          Add a rate from a later date
        </Button>
        {place > 0 ? (
          <CheckField control={control} name={`${at}.compound`} label="on the price and the components before" />
        ) : null}
        <Button variant="plain" onClick={onRemove}>
          Remove component
        </Button>
      </Flex>
    </Box>
  )
}

interface DatedProps {
  readonly control: CodeControl
  readonly at: `recovery.${number}` | `components.${number}.rates.${number}`
  readonly label: string
  /** Null where it is the only one, and stays. */
  readonly onRemove: (() => void) | null
}

/** A percentage, and the day from which it holds. */
const Dated = ({ control, at, label, onRemove }: DatedProps) => (
  <Flex gap="12px" mb="8px" align="flex-start">
    <TextField control={control} name={`${at}.percent`} label={label} w="110px" inputMode="decimal" />
    <DateField control={control} name={`${at}.from`} label="From" />
    {onRemove ? (
      <Button variant="plain" mt="20px" onClick={onRemove}>
        Remove
      </Button>
    ) : null}
  </Flex>
)

/** Shares of the tax that are taken back, by date; none: all of it. */
const Recovery = ({ control }: { readonly control: CodeControl }) => {
  const { fields, append, remove } = useFieldArray({ control, name: 'recovery' })
  return (
    <Box mt="10px">
      <Box color="muted" textStyle="small" mb="4px">
        {fields.length === 0
          ? 'All of the tax is taken back.'
          : 'What is not taken back stays with the cost; before the first date all of it is taken back.'}
      </Box>
      {fields.map((share, index) => (
        <Dated
          key={share.id}
          control={control}
          at={`recovery.${index}`}
          label="Taken back, %"
          onRemove={() => remove(index)}
        />
      ))}
      <Button variant="plain" onClick={() => append({ from: '', percent: '' })}>
        {fields.length === 0 ? 'Only a part is taken back' : 'Another share from a later date'}
      </Button>
    </Box>
  )
}
