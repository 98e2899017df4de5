import path from 'node:path'
import ts from 'typescript'
import { AnswerSchemas, type JsonSchema } from './answer-schema'
import { readRoute, type RouteFacts } from './read-route'
import { loadCostFields, withCostsHidden } from './cost-fields'
import { loadSchemas, type Schemas } from './request-schemas'

/** A route of the server: its path as the router writes it, its method, and its file. */
export interface ServedRoute {
  readonly route: string
  readonly method: string
  readonly file: string
}

const PROBLEM = '#/components/schemas/Problem'

/**
 * The description of the interface by OpenAPI 3.1: requests from the zod schemas that check them, answers from the
 * types of what the routes give.
 *
 * `root`: the project's folder. What a route reads without a schema, and routes without a right, are told plainly.
 */
export async function describeApi(root: string, routes: readonly ServedRoute[], version: string): Promise<object> {
  const program = openProgram(root, routes)
  const checker = program.getTypeChecker()
  const answers = new AnswerSchemas(checker)
  const known = routes.flatMap((served) => {
    const file = program.getSourceFile(served.file)
    const facts = file && readRoute(file, checker)
    return facts ? [{ ...served, facts }] : []
  })
  const requests = await loadSchemas(
    root,
    known.flatMap(({ facts }) => facts.inputs),
  )
  const costFields = await loadCostFields(root)
  const paths: Record<string, Record<string, object>> = {}
  for (const { route, method, facts } of [...known].sort((a, b) => a.route.localeCompare(b.route))) {
    const address = route.replaceAll(/:(\w+)/g, '{$1}')
    const operation = describeOperation(address, method, facts, requests, answers)
    paths[address] = { ...paths[address], [method]: withCostsHidden(operation, costFields[route], answers.components) }
  }
  return {
    openapi: '3.1.0',
    info: {
      title: 'Tsumiki',
      version,
      description:
        'Everything that the pages ask, a script can ask with a key of its own. Quantities and prices are decimal text; sums of money are whole minor units as text; days are year-month-day. Whatever changes something and names a “key” counts once per key: send the same again where an answer was lost.',
    },
    servers: [{ url: '/' }],
    tags: [...new Set(known.map(({ route }) => areaOf(route)))].sort().map((name) => ({ name })),
    paths,
    components: {
      securitySchemes: { key: { type: 'http', scheme: 'bearer' } },
      schemas: { ...answers.components, Problem: PROBLEM_SCHEMA },
    },
  }
}

/** Problem details (RFC 9457), with a sentence for each wrong field. */
const PROBLEM_SCHEMA: JsonSchema = {
  type: 'object',
  required: ['type', 'title', 'status', 'detail'],
  properties: {
    type: { type: 'string' },
    title: { type: 'string' },
    status: { type: 'integer' },
    detail: { type: 'string' },
    fields: { type: 'object', additionalProperties: { type: 'string' } },
  },
}

/** Routes that give a text or bytes give a file; all others give JSON. */
const FILES = new Set(['Buffer', 'Uint8Array', 'ArrayBuffer', 'ReadableStream'])
const isFileLike = (answer: ts.Type): boolean =>
  (answer.flags & ts.TypeFlags.StringLike) !== 0 || FILES.has(answer.symbol?.name ?? '')

const areaOf = (route: string): string => route.split('/')[2] ?? ''

function describeOperation(
  address: string,
  method: string,
  { access, inputs, summary, answer }: RouteFacts,
  requests: Schemas,
  answers: AnswerSchemas,
): object {
  const [first = '', ...more] = summary.replaceAll(/\s+/g, ' ').split(/(?<=[.:]) /)
  const body = inputs.find(({ place }) => place === 'body')
  const isFile = (answer.isUnion() ? answer.types : [answer]).every(isFileLike)
  return {
    operationId: operationName(address, method),
    tags: [areaOf(address)],
    ...(first === '' ? {} : { summary: first.replace(/[.:]$/, '') }),
    ...(more.length > 0 ? { description: more.join(' ') } : {}),
    ...(access.kind === 'open' ? { security: [] } : { security: access.kind === 'right' ? [{ key: [] }] : [] }),
    ...(access.kind === 'open' ? {} : { 'x-right': access.right }),
    parameters: [...pathParameters(address), ...queryParameters(inputs, requests)],
    ...(body ? { requestBody: { required: true, content: { 'application/json': { schema: requests(body) } } } } : {}),
    responses: {
      200: {
        description: isFile ? 'A file.' : 'Done.',
        content: isFile ? { '*/*': {} } : { 'application/json': { schema: answers.schemaOf(answer) } },
      },
      default: {
        description: 'Refused: the sentence says why.',
        content: { 'application/problem+json': { schema: { $ref: PROBLEM } } },
      },
    },
  }
}

/** `GET /api/stock/counts/{id}` is `getStockCountsById`. */
function operationName(address: string, method: string): string {
  const words = address
    .split('/')
    .slice(2)
    .map((part) => part.replaceAll(/[{}]/g, ' ').trim())
    .map((part, index, all) => (address.split('/')[index + 2]!.startsWith('{') ? `by ${all[index]}` : part))
  const text = [method, ...words].join(' ').replaceAll(/[^\w]+/g, ' ')
  return text.replaceAll(/ (\w)/g, (_, letter: string) => letter.toUpperCase())
}

const pathParameters = (address: string): object[] =>
  [...address.matchAll(/\{(\w+)\}/g)].map(([, name]) => ({
    name,
    in: 'path',
    required: true,
    schema: { type: name === 'id' ? ['integer', 'string'] : 'string' },
  }))

function queryParameters(inputs: RouteFacts['inputs'], requests: Schemas): object[] {
  const queries = inputs.filter(({ place }) => place === 'query').map(requests) as {
    properties?: Record<string, JsonSchema>
    required?: string[]
  }[]
  return queries.flatMap(({ properties = {}, required = [] }) =>
    Object.entries(properties).map(([name, schema]) => ({
      name,
      in: 'query',
      required: required.includes(name),
      schema,
    })),
  )
}

function openProgram(root: string, routes: readonly ServedRoute[]): ts.Program {
  const file = path.join(root, '.nuxt/tsconfig.server.json')
  const { config } = ts.readConfigFile(file, ts.sys.readFile) as { config: object }
  const { options, fileNames } = ts.parseJsonConfigFileContent(config, ts.sys, path.dirname(file))
  const declarations = fileNames.filter((name) => name.endsWith('.d.ts'))
  return ts.createProgram([...declarations, ...routes.map((route) => route.file)], { ...options, noEmit: true })
}
