import { Button, chakra } from '@chakra-ui/react'
import { useRef } from 'react'

interface FileButtonProps {
  readonly label: string
  readonly accept: string
  readonly multiple?: boolean
  readonly busy?: boolean
  readonly onFiles: (files: readonly File[]) => void
}

/** A button that asks for files. */
export const FileButton = ({ label, accept, multiple, busy, onFiles }: FileButtonProps) => {
  const input = useRef<HTMLInputElement>(null)
  return (
    <>
      <chakra.input
        srOnly
        ref={input}
        type="file"
        accept={accept}
        multiple={multiple ?? false}
        tabIndex={-1}
        aria-label={label}
        onChange={event => {
          const files = [...(event.target.files ?? [])]
          event.target.value = ''
          if (files.length > 0) onFiles(files)
        }}
      />
      <Button disabled={busy ?? false} onClick={() => input.current?.click()}>
        {label}
      </Button>
    </>
  )
}
