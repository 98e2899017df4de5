import { stringify } from 'csv-stringify/sync'
import { traceGoods } from './genealogy'

/**
 * A trail as CSV: a line for each lot or piece that it reaches, with the act that leads there, what is still in stock,
 * and to whom it went.
 */
export async function recallFile(
  start: { lot: number | null; piece: number | null },
  direction: 'back' | 'forward',
): Promise<{ name: string; text: string }> {
  const trace = await traceGoods(start, direction)
  const first = trace.nodes.find((node) => node.id === trace.start)!
  const lines = trace.nodes.map((node) => {
    const edges = trace.edges.filter((edge) => (direction === 'forward' ? edge.to : edge.from) === node.id)
    return {
      level: node.level,
      item: node.code,
      name: node.name,
      lot: node.lot ?? '',
      piece: node.piece ?? '',
      by: edges.map((edge) => edge.label).join('; '),
      on: edges.map((edge) => edge.on).join('; '),
      still_in_stock: node.onHand,
      unit: node.symbol,
      expires_on: node.expiresOn ?? '',
      came_from: node.madeFrom,
      shipped_to: node.shippedTo,
      sure: node.possible ? 'possibly' : 'yes',
    }
  })
  return {
    name: `recall-${first.code}-${first.piece ?? first.lot}-${direction}`,
    text: stringify(lines, { header: true, escape_formulas: true, bom: true }),
  }
}
