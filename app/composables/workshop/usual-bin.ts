/** Where finished goods go first: the company's usual bin where it is among them, else the first. */
export function usualBin(bins: readonly { readonly id: number }[]): number | null {
  const usual = useSession().company?.finishedBinId
  return (bins.find((bin) => bin.id === usual) ?? bins[0])?.id ?? null
}
