import { FileButton } from '../ui/FileButton.tsx'
import type { FileOf } from './fileQueries.ts'
import { useBring } from './useBring.ts'
import { WhichAccount } from './WhichAccount.tsx'

/** Brings in bank statements of any format; a number that no account has yet is asked about once. */
export const StatementButton = ({ of = null }: { readonly of?: FileOf | null }) => {
  const { bring, busy, unknown, forget } = useBring(of)
  return (
    <>
      <FileButton
        label="Bring in a statement"
        accept=".xml,.csv,.txt,.xlsx,.sta,.mt940,.940,.ofx,.qfx,.camt"
        multiple
        busy={busy}
        onFiles={files => void bring(files)}
      />
      {unknown ? (
        <WhichAccount
          of={unknown}
          onClose={forget}
          onKnown={(file, tie) => {
            forget()
            void bring([file], tie)
          }}
        />
      ) : null}
    </>
  )
}
