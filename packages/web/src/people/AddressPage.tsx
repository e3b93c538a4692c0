import { Box, Button } from '@chakra-ui/react'
import { useState } from 'react'
import { Link } from 'react-router'
import { Plain } from '../ui/Plain.tsx'
import { useSignInActs } from './peopleQueries.ts'
import { Refusal } from './SignInForm.tsx'

/** A change of address, confirmed by a press at each of the two: what merely follows links confirms nothing. */
export const AddressPage = () => {
  const [token] = useState(() => window.location.hash.slice(1))
  const { confirmAddress } = useSignInActs()
  const { data, error, isPending } = confirmAddress
  return (
    <Plain title="A new address">
      {data === undefined ? (
        <>
          <Box mb="14px">
            The address by which somebody signs in to Culvert is to change. Confirm it only if that was you.
          </Box>
          <Refusal of={error} />
          <Button variant="solid" disabled={isPending} onClick={() => confirmAddress.mutate(token)}>
            Confirm
          </Button>
        </>
      ) : data.left === null ? (
        <Box role="status">
          The address is changed. Whoever was signed in signs in anew with it. <Link to="/">Sign in</Link>
        </Box>
      ) : (
        <Box role="status">
          Confirmed here. It changes once the letter at the {data.left === 'old' ? 'former' : 'new'} address is
          confirmed too.
        </Box>
      )}
    </Plain>
  )
}
