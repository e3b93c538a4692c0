import { lazy, Suspense } from 'react'
import type { NewAccountProps } from './NewAccount.tsx'

// What forms are made of is fetched once one is opened.
const NewAccount = lazy(() => import('./NewAccount.tsx'))

/** Makes an account of the chart where it was found missing. */
export const NewAccountDialog = ({ open, ...rest }: NewAccountProps) =>
  open ? (
    <Suspense fallback={null}>
      <NewAccount {...rest} />
    </Suspense>
  ) : null
