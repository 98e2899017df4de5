import { defineStore } from 'pinia'
import type { UnitRow } from '~~/shared/catalogue'

interface Named { readonly id: number, readonly code: string, readonly name: string }
export interface BinRow extends Named { readonly closedToPicking: boolean, readonly closedToReceiving: boolean }

/** What fields choose from; read once, and again when something is added. */
export const useReferences = defineStore('references', () => {
  const units = ref<UnitRow[]>([])
  const groups = ref<Named[]>([])
  const suppliers = ref<Named[]>([])
  const customers = ref<Named[]>([])
  const bins = ref<BinRow[]>([])
  let loading: Promise<void> | null = null

  async function read(): Promise<void> {
    const answer = await $fetch('/api/catalogue/references')
    units.value = answer.units
    groups.value = answer.groups
    suppliers.value = answer.suppliers
    customers.value = answer.customers
    bins.value = answer.bins
  }
  const load = (): Promise<void> => loading ??= read()
  function reload(): Promise<void> { loading = read(); return loading }
  const symbol = (code: string): string => units.value.find(unit => unit.code === code)?.symbol ?? code

  return { units, groups, suppliers, customers, bins, load, reload, symbol }
})
