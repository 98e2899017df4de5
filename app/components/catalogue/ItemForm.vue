<script setup lang="ts">
import { describeUnitError } from '~~/core/units'
import { ITEM_SOURCES, ITEM_STATUSES, measureOf, TRACKINGS } from '~~/shared/catalogue'
import type { ItemForm } from '~/composables/use-item-form'

const props = defineProps<{ fields: Record<string, string>, moved?: boolean }>()
const form = defineModel<ItemForm>({ required: true })
const references = useReferences()
const adding = ref<'group' | 'supplier' | null>(null)

const unitOptions = computed(() => references.units.filter(u => !u.retired).map(u => ({ value: u.code, name: `${u.name} (${u.symbol})` })))
const measure = computed(() => measureOf(references.units, { ...form.value, finestStep: '1', relations: form.value.relations.filter(r => /^(\d+(\.\d+)?|\d+\/[1-9]\d*)$/.test(r.per)).map(r => ({ unit: r.unit, ofUnit: r.ofUnit, numerator: r.per.split('/')[0]!, denominator: r.per.split('/')[1] ?? '1' })) }))
const contradiction = computed(() => measure.value.ok || props.fields['relations.0.per'] ? '' : describeUnitError(measure.value.error, code => references.units.find(u => u.code === code)?.name ?? code))
function addTerms(): void { form.value.terms = { supplierId: null, supplierCode: '', unit: form.value.buyingUnit, price: '', minimum: '0', multiple: '0', leadDays: '0' } }
</script>

<template>
  <div class="grid gap-5">
    <div class="grid grid-cols-6 gap-3">
      <FormText v-model="form.code" label="Code" :error="fields.code" />
      <FormText v-model="form.name" label="Name" class="col-span-2" :error="fields.name" />
      <div class="flex items-start gap-1"><FormSelect v-model="form.groupId" label="Group" class="min-w-0 flex-1" :error="fields.groupId" :options="references.groups.map(g => ({ value: g.id, name: g.name }))" /><UiButton class="mt-[1.45rem]" aria-label="Add a group" @click="adding = 'group'">+</UiButton></div>
      <FormSelect v-model="form.source" label="Comes by being" :error="fields.source" :options="ITEM_SOURCES.map(s => ({ value: s, name: s }))" />
      <FormSelect v-model="form.status" label="Status" :error="fields.status" :options="ITEM_STATUSES.map(s => ({ value: s, name: s }))" />
      <FormSelect v-model="form.stockUnit" label="Stock unit" :disabled="moved" :error="fields.stockUnit" :options="unitOptions" />
      <FormSelect v-model="form.buyingUnit" label="Buying unit" :error="fields.buyingUnit" :options="unitOptions" />
      <FormSelect v-model="form.sellingUnit" label="Selling unit" :error="fields.sellingUnit" :options="unitOptions" />
      <FormText v-model="form.finestStep" label="Finest step" right :hint="`${references.symbol(form.stockUnit)}, the least the ledger records`" :error="fields.finestStep" />
      <FormSelect v-model="form.tracking" label="Tracked by" :disabled="moved" :error="fields.tracking" :options="TRACKINGS.map(t => ({ value: t, name: t === 'none' ? 'quantity only' : t }))" />
      <FormText v-model="form.shelfLifeDays" label="Shelf life, days" right :error="fields.shelfLifeDays" />
      <FormText v-model="form.leadDays" label="Time to make, working days" right :error="fields.leadDays" />
      <FormText v-model="form.safetyStock" label="Safety stock" right :hint="references.symbol(form.stockUnit)" :error="fields.safetyStock" />
      <FormText v-model="form.price" label="Selling price" right :hint="`for one ${references.symbol(form.sellingUnit)}`" :error="fields.price" />
      <FormText v-model="form.note" label="Note" class="col-span-3" :error="fields.note" />
    </div>
    <fieldset>
      <legend class="mb-1 font-semibold">Packs and bridges</legend>
      <p class="mb-2 text-fine text-soft">How this item's units relate: a carton holds 24 pieces; a metre of this cloth is 1.32 m². Standard ratios (kg and g, m and cm) need no line.</p>
      <div v-for="(relation, index) in form.relations" :key="index" class="mb-2 flex items-start gap-2">
        <span class="pt-2">1</span><FormSelect v-model="relation.unit" class="w-44" label="Unit" hide-label :options="unitOptions" />
        <span class="pt-2">=</span><FormText v-model="relation.per" class="w-64" label="Holds" hide-label right :error="fields[`relations.${index}.per`]" />
        <FormSelect v-model="relation.ofUnit" class="w-44" label="Of" hide-label :options="unitOptions" />
        <UiButton @click="form.relations.splice(index, 1)">Remove</UiButton>
      </div>
      <p v-if="contradiction" class="mb-2 text-fine text-brick">{{ contradiction }}</p>
      <UiButton small @click="form.relations.push({ unit: form.buyingUnit, per: '', ofUnit: form.stockUnit })">Add a pack or bridge</UiButton>
    </fieldset>
    <fieldset v-if="form.source === 'bought'">
      <legend class="mb-1 font-semibold">Supplier's terms</legend>
      <div v-if="form.terms" class="grid grid-cols-7 gap-3">
        <div class="col-span-2 flex items-start gap-1"><FormSelect v-model="form.terms.supplierId" label="Supplier" class="min-w-0 flex-1" :error="fields['terms.supplierId']" :options="references.suppliers.map(s => ({ value: s.id, name: s.name }))" /><UiButton class="mt-[1.45rem]" aria-label="Add a supplier" @click="adding = 'supplier'">+</UiButton></div>
        <FormText v-model="form.terms.supplierCode" label="Their code" :error="fields['terms.supplierCode']" />
        <FormSelect v-model="form.terms.unit" label="Ordered in" :error="fields['terms.unit']" :options="unitOptions" />
        <FormText v-model="form.terms.price" label="Price" right :hint="`for one ${references.symbol(form.terms.unit)}`" :error="fields['terms.price']" />
        <FormText v-model="form.terms.minimum" label="At least" right :error="fields['terms.minimum']" />
        <FormText v-model="form.terms.multiple" label="In steps of" right :error="fields['terms.multiple']" />
        <FormText v-model="form.terms.leadDays" label="Lead time, working days" right :error="fields['terms.leadDays']" />
        <UiButton class="mt-[1.45rem] justify-self-start" @click="form.terms = null">Remove terms</UiButton>
      </div>
      <UiButton v-else small @click="addTerms">Add a supplier's terms</UiButton>
    </fieldset>
    <CatalogueQuickAdd v-if="adding" :kind="adding" @done="(id) => { if (adding === 'group') form.groupId = id; else if (form.terms) form.terms.supplierId = id; adding = null }" @close="adding = null" />
  </div>
</template>
