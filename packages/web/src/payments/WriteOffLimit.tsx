import { Button, Flex, Span } from '@chakra-ui/react'
import { saveWriteOffBody, type TieOutPage } from '@culvert/contract'
import { useState } from 'react'
import { z } from 'zod'
import { useClient } from '../context/ClientContext.tsx'
import { Act } from '../ui/Act.tsx'
import { AmountField } from '../ui/form/fields.tsx'
import { useSchemaForm } from '../ui/form/useSchemaForm.ts'
import { amountText, currencySign } from '../ui/formats.ts'
import { Modal } from '../ui/Modal.tsx'
import { useNotice } from '../ui/Notice.tsx'
import { useSaveWriteOff } from './paymentQueries.ts'

const limit = z.object({ upTo: saveWriteOffBody.shape.upTo.refine(upTo => upTo !== 0, 'Above zero, or nothing.') })

/** Up to how much of one payment may be written off, and the way to change it. */
export const WriteOffLimit = ({ page }: { readonly page: TieOutPage }) => {
  const { locale } = useClient()
  const [open, setOpen] = useState(false)
  const limit = page.writeOffUpTo
  return (
    <Flex mt="8px" gap="10px" align="center" color="muted" textStyle="small">
      <Span>
        {limit === null
          ? 'Differences are not written off.'
          : `Differences up to ${currencySign(page.base)} ${amountText(limit, page.base, locale)} may be written off.`}
      </Span>
      <Act right="map" variant="ghost" textStyle="small" onClick={() => setOpen(true)}>
        Change the limit
      </Act>
      {open ? <LimitDialog page={page} onClose={() => setOpen(false)} /> : null}
    </Flex>
  )
}

const LimitDialog = ({ page, onClose }: { readonly page: TieOutPage; readonly onClose: () => void }) => {
  const { clientId, locale } = useClient()
  const notice = useNotice()
  const save = useSaveWriteOff(clientId)
  // What stood when it was opened: if somebody else changes it meanwhile, saving says so.
  const [from] = useState(page.writeOffUpTo)
  const form = useSchemaForm(limit, { upTo: from })
  const store = form.handleSubmit(({ upTo }) =>
    save.mutate(
      { upTo, from },
      {
        onError: notice.refuse,
        onSuccess: () => {
          notice.say(
            upTo === null
              ? 'Nothing may be written off from now on.'
              : `Up to ${currencySign(page.base)} ${amountText(upTo, page.base, locale)} may be written off from now on.`,
          )
          onClose()
        },
      },
    ),
  )
  return (
    <Modal
      open
      onSubmit={() => void store()}
      changed={form.formState.isDirty}
      title="What may be written off"
      onClose={onClose}
      foot={
        <>
          <Button type="submit" variant="solid" disabled={save.isPending}>
            Save
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </>
      }
    >
      <AmountField
        control={form.control}
        name="upTo"
        label={`Of one payment at most, in ${page.base}`}
        hint="empty: nothing; what was decided stays"
        currency={page.base}
        w="260px"
      />
    </Modal>
  )
}
