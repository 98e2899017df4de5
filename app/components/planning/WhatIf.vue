<script setup lang="ts">
import { toText } from '~~/core/units/exact'
import type { DecimalSign } from '~~/core/units/quantity'
import type { WhatIfEdit } from '~~/shared/planning/requests'
import { describeWhatIf } from '~~/shared/planning/what-if'
import { parseNumber } from '~/composables/planning/parse-number'

const changes = defineModel<WhatIfEdit[]>({ required: true })
defineProps<{
  codes: Record<number, string>
  dirty: boolean
  busy: boolean
  trying: boolean
  problem: string
  took: number | null
}>()
const emit = defineEmits<{ keep: []; drop: [] }>()
const references = useReferences()
const session = useSession()
const { day } = usePrint()
const KINDS = [
  { value: 'demand', name: 'Demand rises or falls' },
  { value: 'more demand', name: 'Somebody wants more' },
  { value: 'lead time', name: 'Another lead time' },
  { value: 'supplier out', name: 'A supplier does not deliver' },
  { value: 'price', name: 'Prices rise or fall' },
  { value: 'batch', name: 'Another order step' },
] as const
const form = reactive({
  kind: 'demand' as WhatIfEdit['kind'],
  percent: '',
  days: '',
  quantity: '',
  day: session.today,
  itemId: null as number | null,
  groupId: null as number | null,
  supplierId: null as number | null,
})
const names = reactive(new Map<number, string>())
const fault = ref('')
const named = (list: readonly { id: number; name: string }[], id: number): string =>
  list.find((entry) => entry.id === id)?.name ?? '?'
const props = {
  item: (id: number) => names.get(id) ?? '',
  group: (id: number) => named(references.groups, id),
  supplier: (id: number) => named(references.suppliers, id),
  day,
  unit: () => '',
}
const words = (codes: Record<number, string>) => ({
  ...props,
  item: (id: number) => codes[id] ?? names.get(id) ?? `item ${id}`,
})
/** The change as the form says it, or the sentence that tells what is missing. */
const MADE: { readonly [K in WhatIfEdit['kind']]: () => WhatIfEdit | string } = {
  demand: () => {
    const percent = percentOf()
    return percent === null
      ? 'Give per cent, such as 20 or −15.'
      : { kind: 'demand', percent, itemId: form.itemId, groupId: form.groupId }
  },
  'more demand': () => {
    const quantity = parseNumber(form.quantity, decimalSign())
    if (form.itemId === null) {
      return 'Choose an item.'
    }
    return quantity.ok
      ? { kind: 'more demand', itemId: form.itemId, quantity: toText(quantity.value), day: form.day }
      : quantity.error
  },
  'lead time': () => {
    if (!/^\d+$/.test(form.days)) {
      return 'Give whole working days.'
    }
    if (form.itemId === null && form.supplierId === null) {
      return 'Choose an item or a supplier.'
    }
    return { kind: 'lead time', days: Number(form.days), itemId: form.itemId, supplierId: form.supplierId }
  },
  'supplier out': () =>
    form.supplierId === null ? 'Choose a supplier.' : { kind: 'supplier out', supplierId: form.supplierId },
  price: () => {
    const percent = percentOf()
    return percent === null
      ? 'Give per cent, such as 5 or −3.'
      : { kind: 'price', percent, itemId: form.itemId, supplierId: form.supplierId }
  },
  batch: () => {
    const quantity = parseNumber(form.quantity, decimalSign())
    if (form.itemId === null) {
      return 'Choose an item.'
    }
    return quantity.ok ? { kind: 'batch', itemId: form.itemId, quantity: toText(quantity.value) } : quantity.error
  },
}
const decimalSign = (): DecimalSign => session.company?.decimalSign ?? '.'
const percentOf = (): number | null => {
  const read = parseNumber(form.percent.replace('%', ''), decimalSign(), true)
  return read.ok ? Number(read.value.valueOf()) : null
}
function add(): void {
  const entry = MADE[form.kind]()
  fault.value = typeof entry === 'string' ? entry : ''
  if (typeof entry === 'string') {
    return
  }
  changes.value = [...changes.value, entry]
  Object.assign(form, { percent: '', days: '', quantity: '', itemId: null, groupId: null, supplierId: null })
}
const needs = (...kinds: WhatIfEdit['kind'][]): boolean => kinds.includes(form.kind)
</script>

<template>
  <UiSheet>
    <p class="mb-3 text-soft">
      Try out what may come. The plan above is computed along while you look; nothing is ordered, and nothing is kept
      until you say so.
    </p>
    <form class="flex flex-wrap items-start gap-3" @submit.prevent="add">
      <UiChoice v-model="form.kind" label="What if" class="w-56" :options="KINDS.map((kind) => ({ ...kind }))" />
      <UiTextField
        v-if="needs('demand', 'price')"
        v-model="form.percent"
        label="By per cent"
        class="w-28"
        placeholder="−15"
      />
      <UiTextField v-if="needs('lead time')" v-model="form.days" label="Lead time (working days)" class="w-40" />
      <UiTextField v-if="needs('more demand', 'batch')" v-model="form.quantity" label="Quantity" class="w-28" />
      <UiItemField
        v-if="!needs('supplier out')"
        :key="changes.length"
        v-model="form.itemId"
        :label="needs('demand', 'price', 'lead time') ? 'Of the item (empty: all)' : 'Of the item'"
        class="w-56"
        @chosen="(item) => names.set(item.id, item.code)"
      />
      <UiChoice
        v-if="needs('demand')"
        v-model="form.groupId"
        label="or of the group"
        class="w-44"
        empty="all"
        :options="references.groups.map((g) => ({ value: g.id, name: g.name }))"
      />
      <UiPartnerField
        v-if="needs('lead time', 'price', 'supplier out')"
        v-model="form.supplierId"
        kind="supplier"
        :label="needs('supplier out') ? 'Supplier' : 'or from the supplier'"
        class="w-52"
        empty="Choose …"
      />
      <UiDateField v-if="needs('more demand')" v-model="form.day" label="On" class="w-40" />
      <UiButton type="submit" class="beside-field">Try it</UiButton>
    </form>
    <p v-if="fault" role="alert" class="mt-1 text-fine text-brick">{{ fault }}</p>
    <ul
      v-if="changes.length"
      class="mt-4 divide-y divide-line/60 border-y border-line/60"
      aria-label="What is tried out"
    >
      <li v-for="(change, index) in changes" :key="index" class="flex items-center gap-3 py-1.5">
        {{ describeWhatIf(change, words(codes)) }}<span class="flex-1" /><UiButton
          small
          :aria-label="`Remove: ${describeWhatIf(change, words(codes))}`"
          @click="changes = changes.filter((_, i) => i !== index)"
          >Remove</UiButton
        >
      </li>
    </ul>
    <p v-else class="mt-4 text-soft">Nothing is tried out: the plan is as things are.</p>
    <div v-if="dirty" class="mt-4 flex items-center gap-3">
      <UiButton v-if="session.allows('plan')" primary :busy="busy" @click="emit('keep')">Keep with the plan</UiButton
      ><UiButton @click="emit('drop')">As it was kept</UiButton
      ><span v-if="trying" class="text-fine text-soft" role="status">computing …</span
      ><span v-else-if="took !== null" class="text-fine text-soft"
        >computed in {{ Math.max(1, Math.round(took)) }} ms</span
      >
    </div>
    <UiProblem :text="problem" class="mt-3" />
  </UiSheet>
</template>
