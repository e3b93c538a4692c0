import { Box } from '@chakra-ui/react'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { lazy, Suspense, useEffect, useState } from 'react'
import { Outlet } from 'react-router'
import { onSignedOut, RequestRefused } from '../context/request.ts'
import { sessionQuery } from '../context/sessionQuery.ts'
import { Modal } from '../ui/Modal.tsx'

// Who is signed in already needs none of it.
const SignInPage = lazy(() => import('../people/SignInPage.tsx').then(file => ({ default: file.SignInPage })))
const SignInForm = lazy(() => import('../people/SignInForm.tsx').then(file => ({ default: file.SignInForm })))

/**
 * Lets pages be seen by whoever is signed in. Whoever is not yet signs in in the place of the page; whose session ended does so over it, and what they were
 * writing stands there still.
 */
export const Gate = () => {
  const { data, error } = useQuery(sessionQuery)
  const queries = useQueryClient()
  const [ended, setEnded] = useState(false)
  // Where nobody was in yet nothing ended.
  useEffect(() => onSignedOut(() => setEnded(queries.getQueryData(sessionQuery.queryKey) !== undefined)), [queries])
  const isOut = error instanceof RequestRefused && error.status === 401
  const goOn = async (): Promise<void> => {
    const now = await queries.fetchQuery({ ...sessionQuery, staleTime: 0 })
    // Somebody else goes on from the start: what stands here is not theirs.
    if (now.user.email !== data?.user.email) window.location.assign('/')
    setEnded(false)
  }
  if (!data && isOut)
    return (
      <Suspense fallback={null}>
        <SignInPage />
      </Suspense>
    )
  return (
    <>
      <Outlet />
      <Modal open={ended && data !== undefined} title="Sign in again" onClose={() => setEnded(false)}>
        <Box color="muted" mb="12px">
          Your session ended. What stands on the page stays as it is; go on after signing in.
        </Box>
        <Suspense fallback={null}>
          <Box pb="14px">
            <SignInForm email={data?.user.email ?? ''} onIn={() => void goOn()} />
          </Box>
        </Suspense>
      </Modal>
    </>
  )
}
