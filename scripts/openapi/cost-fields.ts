import { loadBundled } from '../lib/bundle.mjs'
import type { JsonSchema } from './answer-schema'

/** What things cost, by route: `COST_FIELDS` of the server. */
export async function loadCostFields(root: string): Promise<Readonly<Record<string, readonly string[]>>> {
  const { COST_FIELDS } = (await loadBundled(root, 'server/utils/costs.ts')) as {
    COST_FIELDS: Readonly<Record<string, readonly string[]>>
  }
  return COST_FIELDS
}

interface Operation {
  readonly responses: Readonly<Record<string, { readonly content: Readonly<Record<string, { schema?: JsonSchema }>> }>>
}

/** An operation whose answer says that null stands in the fields that whoever may not see costs is not told. */
export function withCostsHidden(
  operation: object,
  fields: readonly string[] | undefined,
  components: Readonly<Record<string, JsonSchema>>,
): object {
  const { responses } = operation as Operation
  const schema = responses['200']?.content['application/json']?.schema
  if (!fields || !schema) {
    return operation
  }
  const told = fields.reduce((sum, field) => withNull(sum, field.split('.'), components), schema)
  const content = { 'application/json': { schema: told } }
  return { ...operation, responses: { ...responses, 200: { ...responses['200'], content } } }
}

const HIDDEN = { type: 'null', description: 'For whoever may not see costs.' }

/** A schema in which a field may be null; components on the way to it are told in place, as others use them too. */
function withNull(
  schema: JsonSchema,
  path: readonly string[],
  components: Readonly<Record<string, JsonSchema>>,
): JsonSchema {
  const inside = (inner: JsonSchema): JsonSchema => withNull(inner, path, components)
  if (typeof schema.$ref === 'string') {
    return inside(components[schema.$ref.split('/').at(-1)!]!)
  }
  const [name, ...rest] = path
  const properties = schema.properties as Record<string, JsonSchema> | undefined
  const own = properties?.[name!]
  return {
    ...schema,
    ...(schema.items !== undefined && { items: inside(schema.items as JsonSchema) }),
    ...(Array.isArray(schema.anyOf) && { anyOf: (schema.anyOf as JsonSchema[]).map(inside) }),
    ...(own && {
      properties: {
        ...properties,
        [name!]: rest.length === 0 ? { anyOf: [own, HIDDEN] } : withNull(own, rest, components),
      },
    }),
  }
}
