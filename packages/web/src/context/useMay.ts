import type { Right } from '@culvert/contract'
import { useClient } from './ClientContext.tsx'

/** Tells whether the person may do something of the client whose pages these are. The server asks anew, whatever is shown. */
export const useMay = (): ((right: Right) => boolean) => {
  const { rights } = useClient()
  return right => rights.includes(right)
}
