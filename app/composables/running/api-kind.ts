import type { ApiSchema } from '~~/shared/running/api-description'

const WORDS: Readonly<Record<string, string>> = {
  string: 'text',
  integer: 'whole number',
  number: 'number',
  boolean: 'true or false',
  null: 'null',
  object: 'object',
}
const FORMATS: Readonly<Record<string, string>> = { uuid: 'UUID', 'date-time': 'moment (ISO 8601)' }

/** What a value is, in words: “list of text”, “one of “open”, “closed””, “text or null”. */
export function kindOf(schema: ApiSchema, components: Readonly<Record<string, ApiSchema>>): string {
  if (schema.enum) {
    return `one of ${schema.enum.map((value) => `“${String(value)}”`).join(', ')}`
  }
  if (schema.const !== undefined) {
    return `“${String(schema.const)}”`
  }
  const choices = schema.anyOf ?? schema.oneOf
  if (choices) {
    return [...new Set(choices.map((choice) => kindOf(choice, components)))].join(' or ')
  }
  if (schema.$ref !== undefined && schema.type === undefined) {
    return schema.$ref.split('/').at(-1)!
  }
  if (schema.type === 'array') {
    return `list of ${schema.items ? kindOf(schema.items, components) : 'values'}`
  }
  const types = typeof schema.type === 'string' ? [schema.type] : (schema.type ?? [])
  const words = types.map((type) => FORMATS[schema.format ?? ''] ?? WORDS[type] ?? type)
  return words.length === 0 ? 'any value' : words.join(' or ')
}
