import ts from 'typescript'

/** Where what a route reads comes from. */
export type Place = 'path' | 'query' | 'body'

/** What a route's file says of itself. */
export interface RouteFacts {
  /** Who may ask: somebody with a right, somebody signed in as a person, or anybody. */
  readonly access: { readonly kind: 'right' | 'person'; readonly right: string } | { readonly kind: 'open' }
  /** The zod schemas by which what comes in is checked: the name of an export, and its module. */
  readonly inputs: readonly { readonly place: Place; readonly name: string; readonly module: string }[]
  /** What it does, in words. */
  readonly summary: string
  readonly answer: ts.Type
}

const PLACES: Readonly<Record<string, Place>> = { getRouterParams: 'path', getQuery: 'query', readBody: 'body' }

/** Reads the file of one route; null where it is none of the kinds that are told. */
export function readRoute(file: ts.SourceFile, checker: ts.TypeChecker): RouteFacts | null {
  const call = exportedCall(file)
  if (!call || !ts.isIdentifier(call.expression)) {
    return null
  }
  const kind = call.expression.text
  const handler = call.arguments.at(-1)!
  const answer = answerOf(handler, checker)
  if (!answer || !['route', 'sessionRoute', 'openRoute'].includes(kind)) {
    return null
  }
  const right = call.arguments[0] && ts.isStringLiteral(call.arguments[0]) ? call.arguments[0].text : ''
  const access =
    kind === 'openRoute'
      ? { kind: 'open' as const }
      : { kind: kind === 'route' ? ('right' as const) : ('person' as const), right }
  return { access, inputs: inputsOf(file), summary: summaryOf(file, call, checker), answer }
}

function exportedCall(file: ts.SourceFile): ts.CallExpression | undefined {
  const exported = file.statements.find((statement) => ts.isExportAssignment(statement))
  return exported && ts.isCallExpression(exported.expression) ? exported.expression : undefined
}

/** What the promise of a handler gives. */
function answerOf(handler: ts.Expression, checker: ts.TypeChecker): ts.Type | undefined {
  const [signature] = checker.getTypeAtLocation(handler).getCallSignatures()
  const given = signature && checker.getReturnTypeOfSignature(signature)
  return given && (checker.getAwaitedType(given) ?? given)
}

/** Every `input(Schema, await readBody(event))` of a file whose schema is imported. */
function inputsOf(file: ts.SourceFile): RouteFacts['inputs'] {
  const modules = importedFrom(file)
  const found: { place: Place; name: string; module: string }[] = []
  const visit = (node: ts.Node): void => {
    if (ts.isCallExpression(node) && node.expression.getText(file) === 'input') {
      const [schema, source] = node.arguments
      const place = Object.entries(PLACES).find(([reader]) => source?.getText(file).includes(`${reader}(`))?.[1]
      const name = schema?.getText(file) ?? ''
      const module = modules.get(name)
      if (place && module !== undefined) {
        found.push({ place, name, module })
      }
    }
    ts.forEachChild(node, visit)
  }
  visit(file)
  return found
}

function importedFrom(file: ts.SourceFile): ReadonlyMap<string, string> {
  const found = new Map<string, string>()
  for (const statement of file.statements) {
    if (!ts.isImportDeclaration(statement) || !ts.isStringLiteral(statement.moduleSpecifier)) {
      continue
    }
    const named = statement.importClause?.namedBindings
    if (named && ts.isNamedImports(named)) {
      for (const { name } of named.elements) {
        found.set(name.text, statement.moduleSpecifier.text)
      }
    }
  }
  return found
}

/** The route's own words, else those of the service that it calls last: that is what it is there for. */
function summaryOf(file: ts.SourceFile, call: ts.CallExpression, checker: ts.TypeChecker): string {
  const own = ts
    .getJSDocCommentsAndTags(call.parent)
    .map((entry) => (typeof entry.comment === 'string' ? entry.comment : ''))
    .join(' ')
  if (own !== '') {
    return own
  }
  return wordsOfServices(file, call, checker) || wordsOfTask(call, checker)
}

/** The words of the last service that is called below a place in a file. */
function wordsOfServices(file: ts.SourceFile, below: ts.Node, checker: ts.TypeChecker): string {
  const services = importedFrom(file)
  let words = ''
  const visit = (node: ts.Node): void => {
    if (ts.isIdentifier(node) && (services.get(node.text) ?? '').includes('/services/')) {
      words = wordsOf(checker.getSymbolAtLocation(node), checker) || words
    }
    ts.forEachChild(node, visit)
  }
  visit(below)
  return words
}

function wordsOf(symbol: ts.Symbol | undefined, checker: ts.TypeChecker): string {
  const meant = symbol && symbol.flags & ts.SymbolFlags.Alias ? checker.getAliasedSymbol(symbol) : symbol
  return ts.displayPartsToString(meant?.getDocumentationComment(checker))
}

/** The words of the service that a route has done as heavy work: `heavy(event, actor, 'printLabels', …)`. */
function wordsOfTask(call: ts.CallExpression, checker: ts.TypeChecker): string {
  let words = ''
  const visit = (node: ts.Node): void => {
    if (ts.isCallExpression(node) && ts.isIdentifier(node.expression) && node.expression.text === 'heavy') {
      const name = node.arguments[2]
      words = name && ts.isStringLiteral(name) ? wordsOfTaskNamed(name.text, node.expression, checker) : words
    }
    ts.forEachChild(node, visit)
  }
  visit(call)
  return words
}

/** A task is listed by the name of its service, or as what calls it. */
function wordsOfTaskNamed(name: string, heavy: ts.Identifier, checker: ts.TypeChecker): string {
  const [signature] = checker.getTypeAtLocation(heavy).getCallSignatures()
  const names = signature?.typeParameters?.[0]?.getConstraint()
  const listed = names?.aliasSymbol?.declarations?.[0]?.getSourceFile()
  let words = ''
  const visit = (node: ts.Node): void => {
    if (ts.isShorthandPropertyAssignment(node) && node.name.text === name) {
      words = wordsOf(checker.getShorthandAssignmentValueSymbol(node), checker)
    } else if (ts.isPropertyAssignment(node) && node.name.getText() === name) {
      words = wordsOfServices(listed!, node, checker)
    }
    ts.forEachChild(node, visit)
  }
  if (listed) {
    visit(listed)
  }
  return words
}
