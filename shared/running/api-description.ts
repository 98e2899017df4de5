/** JSON Schema (2020-12), as far as the guide tells it. */
export interface ApiSchema {
  readonly $ref?: string
  readonly type?: string | readonly string[]
  readonly format?: string
  readonly description?: string
  readonly const?: unknown
  readonly enum?: readonly unknown[]
  readonly properties?: Readonly<Record<string, ApiSchema>>
  readonly required?: readonly string[]
  readonly items?: ApiSchema
  readonly prefixItems?: readonly ApiSchema[]
  readonly additionalProperties?: ApiSchema | boolean
  readonly anyOf?: readonly ApiSchema[]
  readonly oneOf?: readonly ApiSchema[]
  readonly minLength?: number
  readonly maxLength?: number
  readonly default?: unknown
}

/** One thing that can be asked. */
export interface ApiOperation {
  readonly operationId: string
  readonly tags: readonly string[]
  readonly summary?: string
  readonly description?: string
  readonly security: readonly object[]
  readonly 'x-right'?: string
  readonly parameters: readonly {
    readonly name: string
    readonly in: 'path' | 'query'
    readonly required: boolean
    readonly schema: ApiSchema
  }[]
  readonly requestBody?: { readonly content: Readonly<Record<string, { readonly schema: ApiSchema }>> }
  readonly responses: Readonly<Record<string, { readonly content: Readonly<Record<string, { schema?: ApiSchema }>> }>>
}

/** The description of the interface by OpenAPI 3.1. */
export interface ApiDescription {
  readonly openapi: string
  readonly info: { readonly title: string; readonly version: string; readonly description: string }
  readonly tags: readonly { readonly name: string }[]
  readonly paths: Readonly<Record<string, Readonly<Record<string, ApiOperation>>>>
  readonly components: { readonly schemas: Readonly<Record<string, ApiSchema>> }
}
