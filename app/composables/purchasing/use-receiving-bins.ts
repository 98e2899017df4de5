/**
 * The bins that goods may go into: those of the site that they are delivered to first, the others with the name of
 * theirs.
 */
export function useReceivingBins(siteId: () => number | null) {
  const references = useReferences()
  const siteName = (id: number): string => references.sites.find((site) => site.id === id)?.name ?? ''
  return computed(() => {
    const open = references.bins.filter((bin) => !bin.closedToReceiving)
    const isHere = (bin: (typeof open)[number]): boolean => bin.siteId === siteId()
    return [
      ...open.filter(isHere),
      ...open.filter((bin) => !isHere(bin)).map((bin) => ({ ...bin, name: `${bin.name} (${siteName(bin.siteId)})` })),
    ]
  })
}
