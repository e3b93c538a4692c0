import { Button, Flex, Input, Span } from '@chakra-ui/react'
import type { TieOutPage } from '@culvert/contract'
import { printAmount, typedAmount } from '@culvert/core'
import { useState } from 'react'
import { useClient } from '../context/ClientContext.tsx'
import { FormField } from '../ui/form/FormField.tsx'
import { amountText, currencySign } from '../ui/formats.ts'
import { Modal } from '../ui/Modal.tsx'
import { useNotice } from '../ui/Notice.tsx'
import { useSaveWriteOff } from './paymentQueries.ts'

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
      <Button variant="ghost" textStyle="small" onClick={() => setOpen(true)}>
        Change the limit
      </Button>
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
  const [text, setText] = useState(from === null ? '' : printAmount(from, page.base, locale))
  const [tried, setTried] = useState(false)
  const typed = text.trim() === '' ? null : typedAmount(text, page.base, locale)
  const upTo = typed === null ? null : typed.ok && typed.minor > 0 ? typed.minor : undefined
  const fault = tried && upTo === undefined ? `Write an amount above zero in ${page.base}, or nothing.` : null
  const store = () => {
    setTried(true)
    if (upTo === undefined) return
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
    )
  }
  return (
    <Modal
      open
      title="What may be written off"
      onClose={onClose}
      foot={
        <>
          <Button variant="solid" disabled={save.isPending} onClick={store}>
            Save
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </>
      }
    >
      <FormField
        label={`Of one payment at most, in ${page.base}`}
        hint="empty: nothing; what was decided stays"
        fault={fault}
      >
        <Input
          w="140px"
          textAlign="right"
          inputMode="decimal"
          value={text}
          onChange={event => setText(event.target.value)}
        />
      </FormField>
    </Modal>
  )
}
