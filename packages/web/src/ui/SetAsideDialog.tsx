import { lazy, Suspense } from 'react'
import type { SetAsideProps } from './SetAside.tsx'

// What forms are made of is fetched once one is opened.
const SetAside = lazy(() => import('./SetAside.tsx'))

/** Asks why something is left out. */
export const SetAsideDialog = ({ open, ...rest }: SetAsideProps) =>
  open ? (
    <Suspense fallback={null}>
      <SetAside {...rest} />
    </Suspense>
  ) : null
