import ts from 'typescript'

export type JsonSchema = Record<string, unknown>

/** Deeper than this nothing is told any more: nobody reads on there. */
const DEEPEST = 12

/**
 * Tells types of TypeScript as JSON Schema (2020-12), as they look once they went over the wire: days and moments are
 * text, what is undefined is left out, functions are not there.
 *
 * Named types without parameters become components, and are told once.
 */
export class AnswerSchemas {
  /** The named types by their names. */
  readonly components: Record<string, JsonSchema> = {}
  private readonly names = new Map<ts.Type, string>()

  constructor(private readonly checker: ts.TypeChecker) {}

  schemaOf(type: ts.Type, depth = 0): JsonSchema {
    if (depth > DEEPEST) {
      return {}
    }
    const name = this.nameOf(type)
    if (name === null) {
      return this.describe(type, depth)
    }
    if (!(name in this.components)) {
      // Known before it is told, so that a type may hold itself.
      this.components[name] = {}
      this.components[name] = this.describe(type, depth)
    }
    return { $ref: `#/components/schemas/${name}` }
  }

  /** The name of a type of ours: an interface, or an alias of an object type, that has no parameters. */
  private nameOf(type: ts.Type): string | null {
    const known = this.names.get(type)
    if (known !== undefined) {
      return known
    }
    const symbol = type.aliasSymbol ?? (type.flags & ts.TypeFlags.Object ? type.symbol : undefined)
    const isPlain = type.aliasTypeArguments === undefined && !this.argumentsOf(type).length
    const isOurs = symbol?.declarations?.some(({ parent }) => {
      const { fileName } = parent.getSourceFile()
      return !fileName.includes('/node_modules/')
    })
    if (!symbol || !isPlain || !isOurs || symbol.name.startsWith('__') || !this.isObject(type)) {
      return null
    }
    const taken = new Set(this.names.values())
    let name = symbol.name
    for (let count = 2; taken.has(name); count++) {
      name = `${symbol.name}${count}`
    }
    this.names.set(type, name)
    return name
  }

  private describe(type: ts.Type, depth: number): JsonSchema {
    if (type.isUnion()) {
      return this.describeUnion(type, depth)
    }
    const plain = describePlain(type)
    if (plain) {
      return plain
    }
    if (type.symbol?.name === 'Date') {
      return { type: 'string', format: 'date-time' }
    }
    if (this.checker.isTupleType(type)) {
      return { type: 'array', prefixItems: this.argumentsOf(type).map((entry) => this.schemaOf(entry, depth + 1)) }
    }
    if (this.checker.isArrayType(type)) {
      return { type: 'array', items: this.schemaOf(this.argumentsOf(type)[0]!, depth + 1) }
    }
    return this.isObject(type) ? this.describeObject(type, depth) : {}
  }

  private describeUnion(type: ts.UnionType, depth: number): JsonSchema {
    const parts = type.types.filter(({ flags }) => !(flags & (ts.TypeFlags.Undefined | ts.TypeFlags.Void)))
    const literals = parts.filter((part) => part.isStringLiteral())
    const others = parts.filter((part) => !part.isStringLiteral())
    const isBoolean = others.filter(({ flags }) => flags & ts.TypeFlags.BooleanLiteral).length === 2
    const rest = isBoolean ? others.filter(({ flags }) => !(flags & ts.TypeFlags.BooleanLiteral)) : others
    const told = [
      ...(literals.length > 0 ? [{ type: 'string', enum: literals.map(({ value }) => value) }] : []),
      ...(isBoolean ? [{ type: 'boolean' }] : []),
      ...rest.map((part) => this.schemaOf(part, depth + 1)),
    ]
    return told.length === 1 ? told[0]! : { anyOf: told }
  }

  private describeObject(type: ts.Type, depth: number): JsonSchema {
    const properties: Record<string, JsonSchema> = {}
    const required: string[] = []
    for (const property of this.checker.getPropertiesOfType(type)) {
      const own = this.checker.getTypeOfSymbol(property)
      if (own.getCallSignatures().length > 0 || property.name.startsWith('__')) {
        continue
      }
      const said = ts.displayPartsToString(property.getDocumentationComment(this.checker))
      properties[property.name] = { ...this.schemaOf(own, depth + 1), ...(said === '' ? {} : { description: said }) }
      if (!(property.flags & ts.SymbolFlags.Optional) && !mayBeUndefined(own)) {
        required.push(property.name)
      }
    }
    const index = this.checker.getIndexInfoOfType(type, ts.IndexKind.String)
    return {
      type: 'object',
      ...(Object.keys(properties).length > 0 ? { properties } : {}),
      ...(required.length > 0 ? { required } : {}),
      ...(index ? { additionalProperties: this.schemaOf(index.type, depth + 1) } : {}),
    }
  }

  private argumentsOf(type: ts.Type): readonly ts.Type[] {
    const isReference = (type as ts.ObjectType).objectFlags & ts.ObjectFlags.Reference
    return isReference ? this.checker.getTypeArguments(type as ts.TypeReference).filter((entry) => entry !== type) : []
  }

  private isObject(type: ts.Type): boolean {
    return (type.flags & (ts.TypeFlags.Object | ts.TypeFlags.Intersection)) !== 0 && !isText(type)
  }
}

/** A text that is branded is an intersection; over the wire it is text. */
const isText = (type: ts.Type): boolean =>
  type.isIntersection() && type.types.some(({ flags }) => flags & ts.TypeFlags.StringLike)

const mayBeUndefined = (type: ts.Type): boolean =>
  (type.flags & ts.TypeFlags.Undefined) !== 0 ||
  (type.isUnion() && type.types.some(({ flags }) => flags & ts.TypeFlags.Undefined))

/** What is neither an object nor a choice; null for those. */
function describePlain(type: ts.Type): JsonSchema | null {
  if (type.isStringLiteral()) {
    return { type: 'string', const: type.value }
  }
  if (type.isNumberLiteral()) {
    return { type: 'number', const: type.value }
  }
  const kinds: readonly (readonly [number, JsonSchema])[] = [
    [ts.TypeFlags.StringLike, { type: 'string' }],
    [ts.TypeFlags.NumberLike, { type: 'number' }],
    [ts.TypeFlags.BooleanLike, { type: 'boolean' }],
    [ts.TypeFlags.Null | ts.TypeFlags.Undefined | ts.TypeFlags.Void, { type: 'null' }],
  ]
  return isText(type) ? { type: 'string' } : (kinds.find(([flags]) => type.flags & flags)?.[1] ?? null)
}
