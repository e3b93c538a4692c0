import { Box, Button, Flex, Span } from '@chakra-ui/react'
import type { EvidenceContent, EvidenceRow } from '@culvert/contract'
import { useMutation } from '@tanstack/react-query'
import { Paperclip } from 'lucide-react'
import { useNotice } from '../ui/Notice.tsx'

const sizeText = (bytes: number): string =>
  bytes < 100_000 ? `${Math.max(1, Math.round(bytes / 1000))} kB` : `${(bytes / 1_000_000).toFixed(1)} MB`

/** Hands a file over as a file: it is never opened as a page of this address. */
const saveFile = ({ name, mediaType, base64 }: EvidenceContent): void => {
  const bytes = Uint8Array.from(atob(base64), sign => sign.charCodeAt(0))
  const address = URL.createObjectURL(new Blob([bytes], { type: mediaType }))
  const link = document.createElement('a')
  link.href = address
  link.download = name
  link.click()
  URL.revokeObjectURL(address)
}

/** Files that belong to a note: each is saved by a press. */
export const Evidence = ({
  files,
  fetchFile,
  ownName = 'the client',
}: {
  readonly files: readonly EvidenceRow[]
  readonly fetchFile: (id: string) => Promise<EvidenceContent>
  /** Who it is that signs in nowhere. */
  readonly ownName?: string
}) => {
  const notice = useNotice()
  const fetching = useMutation({ mutationFn: fetchFile, onSuccess: saveFile, onError: notice.refuse })
  if (files.length === 0) return null
  return (
    <Box as="ul" listStyleType="none" m="0" p="0" mt="4px">
      {files.map(file => (
        <Flex as="li" key={file.id} gap="6px" align="center">
          <Paperclip size={13} aria-hidden="true" />
          <Button
            variant="ghost"
            disabled={fetching.isPending}
            onClick={() => fetching.mutate(file.id)}
            overflowWrap="anywhere"
            whiteSpace="normal"
            textAlign="start"
          >
            {file.name}
          </Button>
          <Span color="muted" textStyle="small" whiteSpace="nowrap">
            {sizeText(file.size)}, {file.by ?? ownName}
          </Span>
        </Flex>
      ))}
    </Box>
  )
}
