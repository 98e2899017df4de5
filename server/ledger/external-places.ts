import { eq } from 'drizzle-orm'
import type { Tx } from '~~/server/database/client'
import { places } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { End, Status } from './post'

export const EXTERNAL_PLACES = [
  'transit',
  'supplier',
  'customer',
  'workshop',
  'correction',
  'opening',
  'returned',
] as const

/** The other end of a move that enters or leaves the stock rooms. */
export async function externalPlace(tx: Tx, kind: (typeof EXTERNAL_PLACES)[number]): Promise<End> {
  const [place] = await tx.select().from(places).where(eq(places.kind, kind))
  return { placeId: place!.id, status: kind === 'transit' ? 'on the way' : null }
}

/**
 * A bin to put goods into, or to take them from; a refusal stands beside its field. What comes into quarantine is on
 * hold.
 */
export async function bin(
  tx: Tx,
  id: number,
  field: string,
  use: 'receive' | 'take',
  status: Status = 'available',
): Promise<End & { readonly siteId: number }> {
  const [place] = await tx.select().from(places).where(eq(places.id, id))
  let detail
  if (place?.kind !== 'bin') {
    detail = 'Choose a bin.'
  } else if (use === 'receive' && place.retired) {
    detail = `${place.name} is retired. Choose another bin.`
  } else if (use === 'receive' && place.closedToReceiving) {
    detail = `${place.name} is closed to receiving. Choose another bin.`
  } else {
    detail = null
  }
  if (detail !== null) {
    throw new Refusal('invalid-input', detail, { [field]: detail })
  }
  return {
    placeId: id,
    status: use === 'receive' && place!.quarantine && status === 'available' ? 'on hold' : status,
    siteId: place!.siteId!,
  }
}
