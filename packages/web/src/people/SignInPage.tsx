import { Box, Button, Flex, Span } from '@chakra-ui/react'
import type { SignInChoices } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { Plain } from '../ui/Plain.tsx'
import { signInChoicesQuery, useSignInActs } from './peopleQueries.ts'
import { roleDoes, roleWords } from './roleWords.ts'
import { Refusal, SignInForm } from './SignInForm.tsx'

/** Where one signs in: in the place of the page that was asked for, which comes next. */
export const SignInPage = () => {
  const { data } = useQuery(signInChoicesQuery)
  return (
    <Plain title="Sign in">
      <SignInForm />
      <Box mt="14px" textStyle="small">
        <Link to="/password">Forgotten password</Link>
      </Box>
      {data && data.demo.length > 0 ? <DemoPersons persons={data.demo} /> : null}
    </Plain>
  )
}

/** The made-up people of the demo: one press signs in as one of them. */
const DemoPersons = ({ persons }: { readonly persons: SignInChoices['demo'] }) => {
  const { signIn } = useSignInActs()
  return (
    <Box as="section" aria-label="People of the demo" mt="20px" pt="14px" borderTopWidth="1px" borderColor="hairline">
      <Box as="h2" fontWeight="600" mb="2px">
        Demo
      </Box>
      <Span display="block" color="muted" textStyle="small" mb="8px">
        Made-up books and made-up people. Nothing here is anybody’s.
      </Span>
      {persons.map(person => (
        <Flex key={person.email} gap="12px" align="center" py="5px">
          <Button
            minW="150px"
            disabled={signIn.isPending}
            onClick={() => signIn.mutate({ email: person.email, password: person.password })}
          >
            {person.name}
          </Button>
          <Span textStyle="small" color="muted">
            {roleWords[person.role]}: {roleDoes[person.role]}
          </Span>
        </Flex>
      ))}
      <Refusal of={signIn.error} />
    </Box>
  )
}
