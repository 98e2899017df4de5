/** How the planner names an item at a site: the item's number, and after @ the site's where it is not the main one. */
export const nodeId = (itemId: number | string, siteId: number | null): string =>
  siteId === null ? String(itemId) : `${itemId}@${siteId}`
export const itemOf = (node: string): number => Number.parseInt(node, 10)
/** Null for the main site, or all of them where they plan as one. */
export const siteOf = (node: string): number | null => {
  const index = node.indexOf('@')
  return index < 0 ? null : Number(node.slice(index + 1))
}
