import { defineStore } from 'pinia'
import type { GroupDefaults, Trait } from '~~/shared/catalogue/item-parts'
import type { UnitRow } from '~~/shared/catalogue/measure'

interface Named {
  readonly id: number
  readonly code: string
  readonly name: string
  readonly retired?: boolean
}
export interface BinRow extends Named {
  readonly siteId: number
  readonly closedToPicking: boolean
  readonly closedToReceiving: boolean
}
export interface GroupRow extends Named {
  readonly parentId: number | null
  readonly summary: GroupDefaults
  readonly traits: readonly Trait[]
}

/** What fields choose from; read once, and again when something is added or changed. */
export const useReferences = defineStore('references', () => {
  const units = ref<UnitRow[]>([])
  const groups = ref<GroupRow[]>([])
  const suppliers = ref<(Named & { currencyId: number | null })[]>([])
  const customers = ref<(Named & { priceListId: number | null })[]>([])
  const sites = ref<Named[]>([])
  const allBins = ref<BinRow[]>([])
  const calendars = ref<{ id: number; name: string }[]>([])
  const priceLists = ref<Named[]>([])
  const currencies = ref<Named[]>([])
  let loading: Promise<void> | null = null

  async function read(): Promise<void> {
    const answer = await $fetch('/api/catalogue/references')
    units.value = answer.units
    groups.value = answer.groups as GroupRow[]
    suppliers.value = answer.suppliers
    customers.value = answer.customers
    sites.value = answer.sites
    allBins.value = answer.bins
    calendars.value = answer.calendars
    priceLists.value = answer.priceLists
    currencies.value = answer.currencies
  }
  const load = (): Promise<void> => (loading ??= read())
  function reload(): Promise<void> {
    loading = read()
    return loading
  }
  const symbol = (code: string): string => units.value.find((unit) => unit.code === code)?.symbol ?? code
  const unitName = (code: string): string => units.value.find((unit) => unit.code === code)?.name ?? code
  const bins = computed(() => allBins.value.filter((bin) => !bin.retired))
  const currencyOf = (supplierId: number | null): string | null => {
    const index = suppliers.value.find((s) => s.id === supplierId)?.currencyId
    return currencies.value.find((c) => c.id === index)?.code ?? null
  }
  /** Choices of a field: those in use, and one that is retired where the field has it already. */
  const choices = (list: readonly Named[], now?: number | null) =>
    list
      .filter((entry) => !entry.retired || entry.id === now)
      .map((entry) => ({ value: entry.id, name: entry.name, code: entry.code }))
  /** The groups as a tree: each with how deep it lies, parents before children. */
  const tree = computed(() => {
    const walk = (parent: number | null, depth: number): (GroupRow & { depth: number })[] =>
      groups.value
        .filter((group) => group.parentId === parent)
        .flatMap((group) => [{ ...group, depth }, ...walk(group.id, depth + 1)])
    return walk(null, 0)
  })
  const groupChoices = computed(() =>
    tree.value.map((group) => ({
      value: group.id,
      name: `${'\u2003'.repeat(group.depth)}${group.name}`,
      code: group.code,
    })),
  )

  return {
    units,
    groups,
    suppliers,
    customers,
    sites,
    bins,
    allBins,
    calendars,
    priceLists,
    currencies,
    tree,
    groupChoices,
    load,
    reload,
    symbol,
    unitName,
    currencyOf,
    choices,
  }
})
