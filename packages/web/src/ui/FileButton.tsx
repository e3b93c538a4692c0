import { Button, FileUpload, Span, useFileUpload } from '@chakra-ui/react'
import { useEffect, useEffectEvent } from 'react'
import { useNotice } from './Notice.tsx'

interface FileButtonProps {
  readonly label: string
  /** Which files are offered to choose from: what a file is, its content says. */
  readonly accept: string
  readonly multiple?: boolean
  readonly busy?: boolean
  readonly onFiles: (files: readonly File[]) => void
}

const mostAtOnce = 50

/** A button that asks for files, on which they can be dropped too. */
export const FileButton = ({ label, accept, multiple = false, busy = false, onFiles }: FileButtonProps) => {
  const notice = useNotice()
  const upload = useFileUpload({
    maxFiles: multiple ? mostAtOnce : 1,
    disabled: busy,
    translations: { dropzone: 'A place to drop files on' },
    onFileReject: ({ files }) => {
      if (files.some(one => one.errors.includes('TOO_MANY_FILES')))
        notice.refuse(new Error(multiple ? `At most ${mostAtOnce} files at once.` : 'One file at a time.'))
    },
  })
  const { acceptedFiles } = upload
  const take = useEffectEvent((files: readonly File[]) => {
    onFiles(files)
    // So that the same file can be brought in again.
    upload.clearFiles()
  })
  useEffect(() => {
    if (acceptedFiles.length > 0) take(acceptedFiles)
  }, [acceptedFiles])
  return (
    <FileUpload.RootProvider value={upload}>
      <FileUpload.HiddenInput aria-label={label} accept={accept} />
      <FileUpload.Dropzone disableClick>
        <FileUpload.Trigger asChild>
          <Button disabled={busy}>{label}</Button>
        </FileUpload.Trigger>
        <Span color="muted" textStyle="small">
          or drop {multiple ? 'them' : 'it'} here
        </Span>
      </FileUpload.Dropzone>
    </FileUpload.RootProvider>
  )
}
