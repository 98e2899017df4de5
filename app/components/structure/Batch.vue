<script setup lang="ts">
import type { BillForm } from '~/composables/structure/use-bill-form'
import type { PartItem } from '~~/shared/structure/parts'

defineProps<{ item: PartItem | null; fields: Record<string, string>; disabled?: boolean; isKit?: boolean }>()
const form = defineModel<BillForm>({ required: true })
const references = useReferences()
</script>

<template>
  <p v-if="disabled" class="mb-3 text-soft">
    For <UiQty :of="form.batchSize" :unit="references.symbol(form.batchUnit)" strong /> a batch<template
      v-if="form.yieldPercent !== '100'"
      >, of which {{ form.yieldPercent }} % come out good</template
    ><template v-if="form.note"> · {{ form.note }}</template>
  </p>
  <div v-else class="mb-3 grid grid-cols-1 md:grid-cols-[11rem_8rem_1fr] gap-3">
    <UiQuantityField
      v-model="form.batchSize"
      v-model:unit="form.batchUnit"
      :label="isKit ? 'For so many kits' : 'Batch'"
      :item="item"
      exact
      :error="fields.batchSize ?? fields.batchUnit"
    />
    <UiTextField v-model="form.yieldPercent" label="Output yield, %" right :error="fields.yieldPercent" />
    <UiTextField v-model="form.note" label="Note" :error="fields.note" />
  </div>
</template>
