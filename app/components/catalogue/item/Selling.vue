<script setup lang="ts">
import type { GridColumn } from '~/composables/ui/use-grid-paste'
import type { ItemForm } from '~/composables/catalogue/use-item-form'

const props = defineProps<{ fields: Record<string, string>; disabled?: boolean }>()
const form = defineModel<ItemForm>({ required: true })
const references = useReferences()
const session = useSession()
/** Selling prices are set by those who sell; the standard cost by whoever edits the item. */
const fixed = computed(() => props.disabled || !session.allows('prices'))
const columns = computed<GridColumn[]>(() => [
  {
    key: 'priceListId',
    name: 'On the price list',
    kind: 'choice',
    empty: 'for everyone',
    options: references.choices(references.priceLists),
  },
  {
    key: 'customerId',
    name: 'or only for',
    kind: 'choice',
    empty: '—',
    options: references.choices(references.customers),
  },
  {
    key: 'unit',
    name: 'Sold in',
    kind: 'choice',
    width: '8rem',
    options: references.units.filter((u) => !u.retired).map((u) => ({ value: u.code, name: u.name, code: u.symbol })),
  },
  { key: 'fromQuantity', name: 'From quantity', kind: 'number', width: '8rem' },
  { key: 'fromOn', name: 'From the day', kind: 'date', width: '9.5rem' },
  { key: 'untilOn', name: 'Until', kind: 'date', width: '9.5rem' },
  { key: 'price', name: 'Unit price', kind: 'number', width: '7rem' },
])
</script>

<template>
  <div class="grid gap-4">
    <div class="grid grid-cols-2 md:grid-cols-6 gap-3">
      <UiMoneyField
        v-model="form.price"
        label="Selling price"
        :hint="`for one ${references.symbol(form.sellingUnit)}`"
        :error="fields.price"
        :disabled="fixed"
      />
      <UiMoneyField v-model="form.lowestPrice" label="Never below" :error="fields.lowestPrice" :disabled="fixed" />
      <UiMoneyField v-model="form.highestPrice" label="Never above" :error="fields.highestPrice" :disabled="fixed" />
      <UiMoneyField
        v-model="form.standardCost"
        label="Standard cost"
        :hint="`planned, for one ${references.symbol(form.stockUnit)}`"
        :error="fields.standardCost"
        :disabled="disabled"
      />
    </div>
    <p v-if="fixed && !disabled" class="text-fine text-soft">Selling prices are set by an owner or a planner.</p>
    <div>
      <h3 class="mb-1 font-semibold">Prices by unit, quantity and customer</h3>
      <UiGrid
        v-model="form.prices"
        label="Selling prices"
        path="prices"
        :columns="columns"
        :fields="fields"
        :disabled="fixed"
        :blank="
          () => ({
            priceListId: null,
            customerId: null,
            unit: form.sellingUnit,
            fromQuantity: '0',
            fromOn: '',
            untilOn: '',
            price: '',
          })
        "
        add="Add a price"
        empty="Everyone pays the selling price."
      />
    </div>
  </div>
</template>
