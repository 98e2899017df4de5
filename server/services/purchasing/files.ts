import { purchaseDocument } from './document'
import { orderAsUbl } from './ubl/order'

export interface PurchaseFile {
  readonly name: string
  readonly content: Uint8Array
  readonly type: string
}

/** What goes along with an order’s letter: the order to be read, and the same for the supplier’s program. */
export async function filesOfPurchase(id: number): Promise<PurchaseFile[]> {
  const [pdf, ubl] = await Promise.all([purchaseDocument([id]), orderAsUbl(id)])
  return [
    { name: pdf.name, content: pdf.bytes, type: 'application/pdf' },
    { name: ubl.name, content: Buffer.from(ubl.text), type: 'application/xml' },
  ]
}
