import { db } from '~~/server/database/client'
import { loadUnits } from '../../catalogue/measured-items'

/** Other codes by which single goods are counted: one, and each (UN/ECE Recommendation 20, written down from memory). */
const LIKE_PIECE = ['C62', 'EA']
const PIECE = 'H87'

/** Our units by their codes in UN/ECE Recommendation 20, as UBL writes them. */
export async function loadUnitCodes(): Promise<ReadonlyMap<string, string>> {
  const units = new Map((await loadUnits(db)).flatMap(({ code, rec20 }) => (rec20 ? [[rec20, code] as const] : [])))
  const piece = units.get(PIECE)
  const others = LIKE_PIECE.filter((code) => !units.has(code))
  return piece === undefined ? units : new Map([...units, ...others.map((code) => [code, piece] as const)])
}
