import { Button } from '@chakra-ui/react'
import { z } from 'zod'
import { WordsField } from '../ui/form/fields.tsx'
import { useSchemaForm } from '../ui/form/useSchemaForm.ts'
import { Modal } from '../ui/Modal.tsx'

const reasonForm = z.object({ reason: z.string().trim().min(1, 'the reason').max(1000) })

/** Asks for a reason before something is done. */
export const ReasonDialog = ({
  title,
  act,
  onDone,
  onClose,
}: {
  readonly title: string
  readonly act: string
  readonly onDone: (reason: string) => void
  readonly onClose: () => void
}) => {
  const form = useSchemaForm(reasonForm, { reason: '' })
  return (
    <Modal
      open
      title={title}
      onClose={onClose}
      changed={form.formState.isDirty}
      onSubmit={() => void form.handleSubmit(({ reason }) => onDone(reason))()}
      foot={
        <>
          <Button type="submit" variant="solid">
            {act}
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </>
      }
    >
      <WordsField control={form.control} name="reason" label="Reason" autoFocus />
    </Modal>
  )
}
