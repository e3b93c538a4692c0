import { Box, Button, Flex } from '@chakra-ui/react'
import { useEffect } from 'react'
import { isRouteErrorResponse, Link, useLocation, useRouteError } from 'react-router'
import { Page } from '../ui/Page.tsx'

// As browsers say it of a part of the application that did not come.
const isMissingCode = (error: unknown): boolean =>
  error instanceof Error &&
  /dynamically imported module|importing a module script|module script failed|Unable to preload/i.test(error.message)

/** In place of a page that failed while it was drawn, or whose code did not come: the frame around it stays. */
export const PageFailed = () => {
  const error = useRouteError()
  const { pathname } = useLocation()
  useEffect(() => console.error(error), [error])
  if (isRouteErrorResponse(error) && error.status === 404) return <NothingHere />
  const missing = isMissingCode(error)
  return (
    <Page title={missing ? 'This page could not be loaded' : 'This page failed'}>
      <Box role="alert" bg="sheet" borderWidth="1px" borderColor="crimson" px="14px" py="12px" maxW="760px">
        <Box mb="10px">
          {missing
            ? 'A part of the application did not come: the connection broke, or a newer version was installed meanwhile.'
            : `What went wrong: ${error instanceof Error ? error.message : 'unknown'}.`}{' '}
          Nothing that was saved is lost.
        </Box>
        <Flex gap="12px" align="center">
          <Button variant="solid" onClick={() => window.location.assign(pathname + window.location.search)}>
            Load anew
          </Button>
          <Link to="/">All clients</Link>
        </Flex>
      </Box>
    </Page>
  )
}

/** At an address at which there is nothing. */
export const NothingHere = () => {
  const { pathname } = useLocation()
  return (
    <Page title="There is no page here">
      <Box color="muted">
        Nothing stands at {pathname}. <Link to="/">All clients</Link>
      </Box>
    </Page>
  )
}
