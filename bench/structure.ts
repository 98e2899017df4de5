import { alg, Graph } from '@dagrejs/graphlib'
import pg from 'pg'
import { compileStructure, explode, loopThrough, whereUsed, type StructureLine } from '~~/core/structure'
import { rollUp } from '~~/core/structure/roll-ups'
import { ONE, ratio, ZERO, type Ratio } from '~~/core/units/exact'
import { best, stream, type Figure } from './figure'

const ITEMS = 100_000
const LINES = 400_000
const LEVELS = 6

/** Six levels of items, four lines for each that is made; one product that reaches about 10 000 lines. */
function makeLines(): StructureLine[] {
  const next = stream(3)
  const perLevel = Math.floor(ITEMS / LEVELS)
  const PER = ['1', '1', '2', '2', '4', '12', '0.5', '0.25', '1.32', '1/3', '0.0002'].map((text) => ratio(text))
  const lossy = (share: Ratio, plain: Ratio, oneIn: number): Ratio => (next(oneIn) === 0 ? share : plain)
  const lines: StructureLine[] = []
  for (let index = 0; lines.length < LINES; index++) {
    const level = index % (LEVELS - 1)
    const parent = `${level}.${Math.floor(index / (LEVELS - 1)) % perLevel}`
    const outputYield = lossy(ratio('0.96'), ONE, 10)
    for (let i = 0; i < 4 && lines.length < LINES; i++) {
      lines.push({
        parent,
        child: `${level + 1}.${next(perLevel)}`,
        per: PER[next(11)]!,
        fixed: ZERO,
        scrap: lossy(ratio('0.04'), ZERO, 10),
        outputYield,
      })
    }
  }
  // One product over many: 16 assemblies of the second level, whose parts the lines above reach.
  for (let i = 0; i < 16; i++) {
    lines.push({
      parent: 'product',
      child: `1.${next(perLevel)}`,
      per: ratio(1 + i),
      fixed: ZERO,
      scrap: ZERO,
      outputYield: ONE,
    })
  }
  return lines
}

export async function* run(): AsyncGenerator<Figure> {
  const lines = makeLines()
  const compile = await best(3, () => compileStructure(lines))
  const compiled = compileStructure(lines)
  if (!compiled.ok) {
    throw new Error('loop')
  }
  const structure = compiled.value
  const reach =
    structure.lines.filter((line) => line.parent === 'product').length +
    explode(structure, 'product', ONE).reduce((sum, row) => {
      const index = structure.at.get(row.item)!
      return sum + structure.first[index + 1]! - structure.first[index]!
    }, 0)
  const graphOf = (): Graph => {
    const graph = new Graph({ directed: true })
    for (const line of lines) {
      graph.setEdge(line.parent, line.child, line.per)
    }
    return graph
  }
  const graphMade = await best(1, graphOf)
  const graph = graphOf()
  const walk = (root: string): Map<string, Ratio> => {
    const order = alg.postorder(graph, [root]).reverse()
    const need = new Map<string, Ratio>([[root, ratio(24)]])
    for (const item of order) {
      for (const edge of graph.outEdges(item) ?? []) {
        need.set(edge.w, (need.get(edge.w) ?? ZERO).add(need.get(item)!.mul(graph.edge(edge) as Ratio)))
      }
    }
    return need
  }
  const common = structure.items
    .filter((item) => item.startsWith('5.'))
    .reduce((most, item) => (usesOf(item) > usesOf(most) ? item : most))
  function usesOf(item: string): number {
    const index = structure.at.get(item)!
    return structure.firstUse[index + 1]! - structure.firstUse[index]!
  }
  const database = await inDatabase(process.env.DATABASE_URL!, lines, common)
  const figure = (name: string, value: number, comparedWith: string, comparison: number): Figure => ({
    bench: 'structure',
    figure: name,
    value,
    unit: 'ms',
    comparedWith: `${comparedWith} (${comparison.toFixed(1)} ms)`,
    ratio: value / comparison,
  })
  const exploded = await best(10, () => explode(structure, 'product', ratio(24)))
  const used = await best(10, () => whereUsed(structure, common))
  const loop = await best(10, () => loopThrough(structure, common, ['product', '1.5', '2.7']))
  const [price, wage] = [ratio('1.25'), ratio('0.5')]
  const rolled = await best(3, () => {
    for (const cost of rollUp(structure, { bought: () => price, work: () => wage }).values()) {
      void cost.total
    }
  })
  const library = await best(3, () => walk('product'))
  const libraryUp = await best(3, () => above(graph, common))
  const libraryLoop = await best(1, () => alg.isAcyclic(graph))
  yield* [
    figure(
      `compile ${structure.items.length} items, ${lines.length} lines`,
      compile,
      'building the graph of a graph library',
      graphMade,
    ),
    figure(
      `explosion of a product that reaches ${reach} lines`,
      exploded,
      'the graph library, rational objects',
      library,
    ),
    figure(
      `explosion of a product that reaches ${reach} lines`,
      exploded,
      'a recursive SQL query, numeric',
      database.explode,
    ),
    figure(`where-used of an item with ${usesOf(common)} uses`, used, 'the graph library, reach only', libraryUp),
    figure(
      `where-used of an item with ${usesOf(common)} uses`,
      used,
      'a recursive SQL query, reach only',
      database.used,
    ),
    figure('loop check of one edit', loop, 'the graph library over everything', libraryLoop),
    figure('roll-up of everything, each total read', rolled, 'compiling', compile),
  ]
}

function above(graph: Graph, item: string): Set<string> {
  const found = new Set<string>()
  const open = [item]
  for (let index = open.pop(); index !== undefined; index = open.pop()) {
    for (const parent of graph.predecessors(index) ?? []) {
      if (!found.has(parent)) {
        found.add(parent)
        open.push(parent)
      }
    }
  }
  return found
}

/** The same lines in a table of their own, asked by recursive queries. */
async function inDatabase(
  url: string,
  lines: readonly StructureLine[],
  common: string,
): Promise<{ explode: number; used: number }> {
  const client = new pg.Client({ connectionString: url })
  await client.connect()
  try {
    await client.query('create temp table structure_lines (parent text, child text, per numeric)')
    for (let index = 0; index < lines.length; index += 20_000) {
      const some = lines.slice(index, index + 20_000)
      await client.query('insert into structure_lines select * from unnest($1::text[], $2::text[], $3::numeric[])', [
        some.map((l) => l.parent),
        some.map((l) => l.child),
        some.map((l) => l.per.valueOf()),
      ])
    }
    await client.query(
      'create index on structure_lines (parent); create index on structure_lines (child); analyze structure_lines',
    )
    const explodeAll = `with recursive need as (select child, per * 24 as quantity from structure_lines where parent = 'product' union all select l.child, n.quantity * l.per from need n join structure_lines l on l.parent = n.child) select child, sum(quantity) from need group by 1`
    const usedBy =
      'with recursive up as (select parent from structure_lines where child = $1 union select l.parent from up join structure_lines l on l.child = up.parent) select parent from up'
    return {
      explode: await best(3, () => client.query(explodeAll)),
      used: await best(3, () => client.query(usedBy, [common])),
    }
  } finally {
    await client.end()
  }
}
