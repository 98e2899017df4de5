import type { StillUsed } from '~/components/catalogue/Retire.vue'

/** What an item is still needed for: what lies there, open documents, bills in use; null where it is not. */
export async function stillUsed(id: number, print: (amount: string) => string): Promise<StillUsed | null> {
  const sheet = await $fetch(`/api/catalogue/items/${id}/sheet`)
  const documents = sheet.timeline.map(({ label, link }) => ({ label, link }))
  const bills = sheet.whereUsed.map((row) => row.code)
  const stock = sheet.onHand === '0' ? '' : `${print(sheet.onHand)} ${sheet.symbol}`
  return stock || documents.length + bills.length > 0 ? { code: sheet.code, stock, documents, bills } : null
}
