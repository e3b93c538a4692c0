import { Box, Button, Flex, Span } from '@chakra-ui/react'
import type { ApiDescription } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { Modal } from '../ui/Modal.tsx'
import { Page } from '../ui/Page.tsx'
import type { SheetColumn } from '../ui/sheet/column.ts'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'
import { descriptionQuery } from './appQueries.ts'

interface Call {
  readonly name: string
  readonly stage: string
  readonly method: string
  readonly address: string
  readonly right: string
  readonly does: string
  readonly told: ApiDescription['paths'][string][string]
}

const callsOf = ({ paths }: ApiDescription): Call[] =>
  Object.entries(paths).flatMap(([address, operations]) =>
    Object.entries(operations).map(([method, told]) => ({
      name: told.operationId,
      stage: told.tags[0] ?? '',
      method: method.toUpperCase(),
      address,
      right: told['x-right'],
      does: told.summary,
      told,
    })),
  )

const columns: readonly SheetColumn<Call>[] = [
  { id: 'stage', head: 'Stage', width: '100px', cell: row => row.stage, value: row => row.stage },
  { id: 'method', head: 'Method', width: '70px', cell: row => row.method, value: row => row.method },
  {
    id: 'address',
    head: 'Address',
    width: '400px',
    cell: row => (
      <Span textStyle="mono" fontSize="12.5px">
        {row.address}
      </Span>
    ),
    value: row => row.address,
  },
  { id: 'right', head: 'Right', width: '80px', cell: row => row.right, value: row => row.right },
  { id: 'does', head: 'What it does', cell: row => row.does, value: row => row.does },
]

/** What programs can ask of the server: each call, the right that it needs, what goes in and what comes back. */
export const ApiPage = () => {
  const query = useQuery(descriptionQuery)
  const { data } = query
  const [open, setOpen] = useState<Call | null>(null)
  const calls = data ? callsOf(data) : []
  return (
    <Page
      of={query}
      links={<Link to="/">Clients</Link>}
      title="For programs"
      facts={
        <span>
          {calls.length} calls under <Span textStyle="mono">/api</Span>, described as OpenAPI 3.1 at{' '}
          <a href="/api/openapi.json" style={{ textDecoration: 'underline' }}>
            /api/openapi.json
          </a>
          . A program brings a token, as <Span textStyle="mono">Authorization: Bearer …</Span>; one is made on{' '}
          <Link to="/account" style={{ textDecoration: 'underline' }}>
            your own page
          </Link>
        </span>
      }
    >
      <SheetTable
        label="Calls"
        columns={columns}
        rows={calls}
        rowKey={row => row.name}
        onOpen={setOpen}
        empty="Nothing is described."
      />
      {open ? (
        <Modal
          open
          wide
          title={`${open.method} ${open.address}`}
          onClose={() => setOpen(null)}
          foot={<Button onClick={() => setOpen(null)}>Close</Button>}
        >
          <Flex direction="column" gap="8px">
            <span>
              {open.does} Needs the right <i>{open.right}</i>.
            </span>
            <Shape title="In the address" shape={open.told.parameters} />
            <Shape title="Body" shape={open.told.requestBody} />
            <Shape title="Answers" shape={open.told.responses} />
          </Flex>
        </Modal>
      ) : null}
    </Page>
  )
}

const Shape = ({ title, shape }: { readonly title: string; readonly shape: unknown }) => {
  if (shape === undefined || (Array.isArray(shape) && shape.length === 0)) return null
  return (
    <Box>
      <Box fontWeight="600" mb="2px">
        {title}
      </Box>
      <Box
        as="pre"
        tabIndex={0}
        textStyle="mono"
        fontSize="12.5px"
        maxH="220px"
        overflow="auto"
        p="8px"
        bg="linen"
        borderWidth="1px"
        borderColor="hairline"
      >
        {JSON.stringify(shape, null, 2)}
      </Box>
    </Box>
  )
}
