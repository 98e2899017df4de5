<script setup lang="ts">
import type { CostMethod } from '~~/core/costing'
import { METHOD_SAYS } from '~~/shared/books/words'
import { COSTINGS, ITEM_SOURCES, KIT_POLICIES, ORDER_RULES, TRACKINGS } from '~~/shared/catalogue/words'
import type { GridColumn } from '~/composables/ui/use-grid-paste'
import { drawnItem, type ItemForm } from '~/composables/catalogue/use-item-form'

const props = defineProps<{ fields: Record<string, string>; moved?: boolean; disabled?: boolean; before?: string }>()
const form = defineModel<ItemForm>({ required: true })
const references = useReferences()
const { follow } = useInherited(form)
const adding = ref(false)
const unitOptions = computed(() =>
  references.units.filter((u) => !u.retired).map((u) => ({ value: u.code, name: u.name, code: u.symbol })),
)
const columns = computed<GridColumn[]>(() => [
  { key: 'rank', name: 'Rank', kind: 'number', width: '3.5rem', hint: 'The lowest rank is asked first' },
  {
    key: 'supplierId',
    name: 'Supplier',
    kind: 'choice',
    empty: 'Choose …',
    options: references.choices(references.suppliers),
  },
  { key: 'supplierCode', name: 'Their code', width: '8rem' },
  { key: 'unit', name: 'Ordered in', kind: 'choice', options: unitOptions.value, width: '8rem' },
  { key: 'price', name: 'Unit price', kind: 'number', width: '6.5rem' },
  { key: 'minimum', name: 'Minimum order quantity', kind: 'number', width: '5rem' },
  { key: 'multiple', name: 'Order multiple', kind: 'number', width: '5.5rem' },
  { key: 'leadDays', name: 'Lead time (working days)', kind: 'number', width: '6rem' },
])
const TIERS: GridColumn[] = [
  { key: 'fromQuantity', name: 'From quantity', kind: 'number', width: '9rem' },
  { key: 'fromOn', name: 'From', kind: 'date', width: '10rem' },
  { key: 'untilOn', name: 'Until', kind: 'date', width: '10rem' },
  { key: 'price', name: 'Tier price', kind: 'number', width: '8rem' },
]
const POLICY: Readonly<Record<string, string>> = {
  sealed: 'always packed ahead',
  open: 'always picked as its components',
  either: 'packed ones first, else as components',
}
const RULE: Readonly<Record<string, string>> = {
  exact: 'lot-for-lot',
  fixed: 'fixed order quantity',
  cover: 'period of supply',
  'up to': 'order up to maximum',
  economic: 'economic order quantity',
  'least cost': 'least cost',
}
const RULE_SAYS: Readonly<Record<string, string>> = {
  fixed: 'multiples of the usual order',
  'up to': 'below the reorder point, up to the maximum',
  economic: 'from its cost and a year’s demand',
  'least cost': 'weighed over the whole plan, with price tiers',
}
const SAYS: Readonly<Record<string, string>> = {
  bought: 'ordered from the suppliers below',
  made: 'built by its bill of materials',
  kit: 'packed from its contents',
  'broken down': 'drawn from bulk by a break-down',
  'moved from another site': 'brought from the site beside',
}
const changed = computed(() =>
  props.before && props.before !== form.value.source
    ? `Stock, orders and history stay as they are. From the next plan on it is ${SAYS[form.value.source]}${props.before === 'bought' && form.value.terms.length ? '; the suppliers’ terms stay for when it is bought again' : ''}.`
    : SAYS[form.value.source]!,
)
const blankTerms = () => ({
  supplierId: null,
  rank: String(form.value.terms.length + 1),
  supplierCode: '',
  unit: form.value.buyingUnit,
  price: '',
  tiers: [],
  minimum: '0',
  multiple: '0',
  leadDays: '0',
})
</script>

<template>
  <div class="grid gap-4">
    <div class="grid grid-cols-2 md:grid-cols-6 gap-3">
      <UiChoice
        v-model="form.source"
        label="Source"
        :class="form.source === 'bought' && 'sm:col-span-2'"
        :error="fields.source"
        :disabled="disabled"
        :options="ITEM_SOURCES.map((s) => ({ value: s, name: s }))"
        v-bind="follow('source').hintAct ? follow('source') : { hint: changed }"
      />
      <UiChoice
        v-if="form.source === 'moved from another site'"
        v-model="form.fromSiteId"
        label="From the site"
        :error="fields.fromSiteId"
        :disabled="disabled"
        empty="Choose …"
        :options="references.choices(references.sites, form.fromSiteId)"
      />
      <UiTextField
        v-if="form.source !== 'bought'"
        v-model="form.leadDays"
        label="Lead time (working days)"
        right
        :error="fields.leadDays"
        :disabled="disabled"
        v-bind="follow('leadDays')"
      />
      <UiChoice
        v-if="form.source === 'kit'"
        v-model="form.kitPolicy"
        label="Shipped"
        :error="fields.kitPolicy"
        :disabled="disabled"
        :options="KIT_POLICIES.map((p) => ({ value: p, name: p }))"
        :hint="POLICY[form.kitPolicy]"
      />
      <UiChoice
        v-model="form.tracking"
        label="Tracking"
        :disabled="moved || disabled"
        :error="fields.tracking"
        :options="TRACKINGS.map((t) => ({ value: t, name: t === 'none' ? 'quantity only' : t }))"
        v-bind="follow('tracking')"
      />
      <UiTextField
        v-model="form.shelfLifeDays"
        label="Shelf life, days"
        right
        :error="fields.shelfLifeDays"
        :disabled="disabled"
        v-bind="follow('shelfLifeDays')"
      />
      <UiChoice
        v-model="form.orderRule"
        label="Lot-sizing rule"
        :error="fields.orderRule"
        :disabled="disabled"
        :options="ORDER_RULES.map((rule) => ({ value: rule, name: RULE[rule]! }))"
        :hint="RULE_SAYS[form.orderRule]"
      />
      <UiTextField
        v-if="form.orderRule === 'cover'"
        v-model="form.coverDays"
        label="Days it covers"
        right
        :error="fields.coverDays"
        :disabled="disabled"
      />
      <UiMoneyField
        v-if="form.orderRule === 'economic' || form.orderRule === 'least cost'"
        v-model="form.orderCost"
        label="An order costs"
        :error="fields.orderCost"
        :disabled="disabled"
      />
      <UiTextField
        v-if="form.orderRule === 'economic' || form.orderRule === 'least cost'"
        v-model="form.holdingPercent"
        label="Holding, % a year"
        right
        :error="fields.holdingPercent"
        :disabled="disabled"
        hint="of its value; empty is 20"
      />
      <UiTextField
        v-model="form.overDelivery"
        label="Over-delivery taken in, %"
        right
        :error="fields.overDelivery"
        :disabled="disabled"
        hint="of what was ordered; empty is the supplier’s"
      />
      <UiAmountField
        v-model="form.maximumOrder"
        label="Maximum order quantity"
        :item="drawnItem(form)"
        :error="fields.maximumOrder"
        :disabled="disabled"
      />
      <UiTextField
        v-model="form.pullInDays"
        label="Pull-in window (days)"
        right
        :error="fields.pullInDays"
        :disabled="disabled"
        hint="empty: the lead time"
      />
      <UiAmountField
        v-model="form.usualOrder"
        label="Fixed order quantity"
        :item="drawnItem(form)"
        :error="fields.usualOrder"
        :disabled="disabled"
      />
      <UiChoice
        v-model="form.costing"
        label="Costing method"
        :error="fields.costing"
        :disabled="disabled"
        :options="COSTINGS.map((c) => ({ value: c, name: c }))"
        :hint="METHOD_SAYS[form.costing as CostMethod]"
        v-bind="moved ? { disabled: true } : {}"
      />
    </div>
    <div v-if="form.source === 'bought' || form.terms.length">
      <h3 class="mb-1 font-semibold">Suppliers' terms</h3>
      <UiGrid
        v-model="form.terms"
        label="Suppliers' terms"
        path="terms"
        :columns="columns"
        :fields="fields"
        :disabled="disabled"
        :blank="blankTerms"
        add="Add a supplier's terms"
        :more="disabled ? undefined : 'Add a supplier to choose from'"
        @more="adding = true"
      >
        <template #under="{ row, at }">
          <div class="mb-1 ml-16 max-w-2xl border-l-2 border-line pl-3">
            <p v-if="references.currencyOf(row.supplierId)" class="text-fine text-soft">
              Prices in {{ references.currencyOf(row.supplierId) }}, the supplier's currency.
            </p>
            <UiGrid
              v-model="row.tiers"
              :label="`Price tiers of line ${at + 1}`"
              :path="`terms.${at}.tiers`"
              :columns="TIERS"
              :fields="fields"
              :disabled="disabled"
              :blank="() => ({ fromQuantity: '', fromOn: '', untilOn: '', price: '' })"
              add="Add a price tier"
            />
          </div>
        </template>
      </UiGrid>
    </div>
    <CatalogueQuickAdd
      v-if="adding"
      kind="suppliers"
      @done="
        (id) => {
          const open = form.terms.find((t) => t.supplierId === null)
          if (open) open.supplierId = id
          else form.terms.push({ ...blankTerms(), supplierId: id })
          adding = false
        }
      "
      @close="adding = false"
    />
  </div>
</template>
