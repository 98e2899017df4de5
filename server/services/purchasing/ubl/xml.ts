import { XMLBuilder, XMLParser, XMLValidator } from 'fast-xml-parser'
import { Refusal } from '~~/server/utils/refusal'

/** Names of what documents of UBL 2.1 are made of (OASIS Universal Business Language 2.1, 2013). */
const NAMESPACE = 'urn:oasis:names:specification:ubl:schema:xsd'
const COMPONENTS = {
  '@xmlns:cac': `${NAMESPACE}:CommonAggregateComponents-2`,
  '@xmlns:cbc': `${NAMESPACE}:CommonBasicComponents-2`,
}

/** What stands in an element: text, elements in their order, the same one several times, or nothing. */
export type Element = string | undefined | { readonly [name: string]: Element | readonly Element[] }

const builder = new XMLBuilder({
  attributeNamePrefix: '@',
  textNodeName: '#',
  ignoreAttributes: false,
  format: true,
  suppressEmptyNode: true,
})
const parser = new XMLParser({
  attributeNamePrefix: '@',
  textNodeName: '#',
  ignoreAttributes: false,
  removeNSPrefix: true,
  parseTagValue: false,
  parseAttributeValue: false,
  trimValues: true,
})

/** A document of UBL 2.1 as text, by the name of its root; what is undefined or empty is left out. */
export function writeUbl(name: string, content: { readonly [element: string]: Element | readonly Element[] }): string {
  const root = { '@xmlns': `${NAMESPACE}:${name}-2`, ...COMPONENTS, 'cbc:UBLVersionID': '2.1', ...content }
  const head = { '?xml': { '@version': '1.0', '@encoding': 'UTF-8' } }
  return builder.build({ ...head, [name]: withoutEmpty(root) }) as string
}

function withoutEmpty(value: unknown): unknown {
  if (Array.isArray(value)) {
    return value.map(withoutEmpty)
  }
  if (typeof value !== 'object' || value === null) {
    return value
  }
  return Object.fromEntries(
    Object.entries(value).flatMap(([name, inner]) => {
      const kept = withoutEmpty(inner)
      const isEmpty =
        kept === undefined || kept === '' || (typeof kept === 'object' && Object.keys(kept as object).length === 0)
      return isEmpty ? [] : [[name, kept]]
    }),
  )
}

/** What was read of an element. */
export class Read {
  constructor(private readonly value: unknown) {}

  /** The elements under these names, one below the other; none where one is missing. */
  all(...path: readonly string[]): readonly Read[] {
    return path
      .reduce<readonly unknown[]>(
        (found, name) =>
          found.flatMap((entry) => {
            const inner = (entry as Record<string, unknown> | undefined)?.[name]
            return inner === undefined ? [] : [inner].flat()
          }),
        [this.value],
      )
      .map((entry) => new Read(entry))
  }

  /** The text of the first element under these names; empty where there is none. */
  text(...path: readonly string[]): string {
    const [found] = path.length === 0 ? [this as Read] : this.all(...path)
    const value = found?.value
    return typeof value === 'object' && value !== null
      ? String((value as Record<string, unknown>)['#'] ?? '')
      : String(value ?? '')
  }

  /** An attribute of the first element under these names; empty where there is none. */
  attribute(name: string, ...path: readonly string[]): string {
    const [found] = this.all(...path)
    const value = found?.value
    return typeof value === 'object' && value !== null
      ? String((value as Record<string, unknown>)[`@${name}`] ?? '')
      : ''
  }
}

/** Reads a document of UBL. Errors: `invalid-input` for what is none, or another kind of it. */
export function readUbl(name: string, text: string): Read {
  // Documents of this kind have no need of definitions of their own, by which a few bytes can mean gigabytes.
  if (/<!DOCTYPE|<!ENTITY/i.test(text) || XMLValidator.validate(text) !== true) {
    throw new Refusal('invalid-input', 'This is no XML that can be read here.', { text: 'Choose a UBL document.' })
  }
  const read = parser.parse(text) as Record<string, unknown>
  if (read[name] === undefined) {
    const other = Object.keys(read).find((key) => key !== '?xml') ?? 'nothing'
    throw new Refusal('invalid-input', `This is a document of another kind: ${other}, where ${name} of UBL is read.`, {
      text: `Choose a UBL ${name}.`,
    })
  }
  return new Read(read[name])
}
