import { z } from 'zod'
import type { ApiDescription } from './clients.ts'
import type { Endpoint } from './endpoint.ts'
import { endpointsByStage } from './endpoints.ts'
import { mayBeJob, startedJob } from './jobs.ts'
import { problem } from './shared.ts'

type Json = Readonly<Record<string, unknown>>

// What a schema refines beyond its shape is said by the server; of a transformed value the description gives what goes in.
const schemaOf = (schema: z.ZodType, io: 'input' | 'output'): Json => {
  const { $schema: _, ...described } = z.toJSONSchema(schema, { io, unrepresentable: 'any', target: 'draft-2020-12' })
  return described
}

const json = (schema: Json): Json => ({ 'application/json': { schema } })

const parametersOf = ({ of, path, query }: Endpoint): Json[] => {
  const inPath = [...(of === 'client' ? ['client'] : []), ...[...path.matchAll(/:(\w+)/g)].map(match => match[1])]
  const asked = schemaOf(query, 'input') as {
    properties?: Record<string, Json>
    required?: string[]
    oneOf?: { properties?: Record<string, Json> }[]
    anyOf?: { properties?: Record<string, Json> }[]
  }
  // A query that is one of several shapes may have what any of them has.
  const shapes = asked.oneOf ?? asked.anyOf ?? [asked]
  const named = Object.assign({}, ...shapes.map(shape => shape.properties ?? {})) as Record<string, Json>
  return [
    ...inPath.map(name => ({ name, in: 'path', required: true, schema: { type: 'string' } })),
    ...Object.entries(named).map(([name, schema]) => ({
      name,
      in: 'query',
      required: asked.required?.includes(name) ?? false,
      schema: shapes.length > 1 ? {} : schema,
    })),
  ]
}

const isNothing = (schema: Json): boolean =>
  schema.type === 'object' && Object.keys((schema.properties as Json | undefined) ?? {}).length === 0

const bodyOf = ({ method, body }: Endpoint): Json => {
  if (method === 'GET') return {}
  if (body === 'file') return { requestBody: { required: true, content: { '*/*': { schema: {} } } } }
  const schema = schemaOf(body, 'input')
  return isNothing(schema) ? {} : { requestBody: { required: true, content: json(schema) } }
}

const answersOf = (endpoint: Endpoint): Json => {
  const told = (description: string, schema: z.ZodType) => ({ description, content: json(schemaOf(schema, 'output')) })
  const { answer, status } = endpoint
  if (!mayBeJob(endpoint)) return { [status]: told('Done.', answer) }
  const [, outcome] = (answer as z.ZodUnion<readonly [z.ZodType, z.ZodType]>).options
  return {
    [status]: told('Done.', outcome),
    202: told('It goes on as this job, whose outcome is as that of what is done at once.', startedJob),
  }
}

type Operation = ApiDescription['paths'][string][string]
const operationOf = (stage: string, name: string, endpoint: Endpoint): Operation => ({
  operationId: name,
  tags: [stage],
  summary: endpoint.does,
  description: `Needs the right *${endpoint.right}*.`,
  'x-right': endpoint.right,
  parameters: parametersOf(endpoint),
  ...bodyOf(endpoint),
  // What is open to anyone asks for nothing; one's own account no program reaches.
  security:
    endpoint.right === 'anyone' ? [] : endpoint.right === 'own' ? [{ session: [] }] : [{ token: [] }, { session: [] }],
  responses: {
    ...answersOf(endpoint),
    default: { description: 'Refused, and why.', content: json({ $ref: '#/components/schemas/Problem' }) },
  },
})

/** The description of the API, OpenAPI 3.1 (spec.openapis.org/oas/v3.1.0), made from the endpoints. */
export const describeApi = (): ApiDescription => {
  const paths: Record<string, Record<string, Operation>> = {}
  for (const [stage, endpoints] of Object.entries(endpointsByStage))
    for (const [name, endpoint] of Object.entries(endpoints) as [string, Endpoint][]) {
      const path = `${endpoint.of === 'client' ? '/clients/{client}' : ''}${endpoint.path.replaceAll(/:(\w+)/g, '{$1}')}`
      paths[path] = { ...paths[path], [endpoint.method.toLowerCase()]: operationOf(stage, name, endpoint) }
    }
  return {
    openapi: '3.1.0',
    info: {
      title: 'Culvert',
      version: '1',
      description:
        'Amounts are whole minor units of the currency beside them, plus is a debit where there are two sides; dates are local dates of the client. A program brings a token that a person made, as `Authorization: Bearer …`; a page, whose cookie says who it is, carries the header `x-culvert` with what changes things.',
    },
    servers: [{ url: '/api' }],
    tags: Object.keys(endpointsByStage).map(name => ({ name })),
    paths,
    components: {
      schemas: { Problem: schemaOf(problem, 'output') },
      securitySchemes: {
        token: { type: 'http', scheme: 'bearer' },
        session: { type: 'apiKey', in: 'cookie', name: '__Host-culvert.session_token' },
      },
    },
  }
}
