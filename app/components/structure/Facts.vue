<script setup lang="ts">
import type { PartStructure } from '~~/shared/structure/parts'

const props = defineProps<{ structure: PartStructure | null; itemId: number }>()
const references = useReferences()
const { amount, printed } = usePrint()
const lead = computed(
  () =>
    props.structure?.lead(props.itemId).map((step) => ({ ...step, item: props.structure!.items.get(step.item)! })) ??
    [],
)
const longest = computed(() => Math.max(1, ...lead.value.map((step) => step.begins)))
const mass = computed(() => props.structure?.mass(props.itemId, references.units) ?? null)
const item = computed(() => props.structure?.items.get(String(props.itemId)) ?? null)
</script>

<template>
  <div class="grid items-start gap-4 grid-cols-1 md:grid-cols-[minmax(0,2fr)_minmax(0,1fr)]">
    <UiSheet title="Lead-time path">
      <template #head
        ><a :href="`/api/structure/${itemId}/facts?format=csv`" class="text-soft underline" download>CSV</a
        ><a :href="`/api/structure/${itemId}/facts?format=xlsx`" class="text-soft underline" download>XLSX</a></template
      >
      <p class="mb-3">
        <b class="text-2xl font-semibold">{{ lead[lead.length - 1]?.begins ?? 0 }}</b>{{ ' ' }}
        <span class="text-soft"
          >working days from the first order, with nothing in stock. Each bar is a lead time; the last ends when
          {{ item?.code }} is there.</span
        >
      </p>
      <ol class="grid gap-1.5">
        <li
          v-for="step in [...lead].reverse()"
          :key="step.item.id"
          class="grid grid-cols-1 md:grid-cols-[14rem_1fr] items-center gap-3"
        >
          <span class="truncate"><UiItemChip :id="step.item.id" :code="step.item.code" :name="step.item.name" /></span>
          <span class="relative block h-6 rounded-block bg-wash"
            ><span
              class="absolute inset-y-0 flex items-center justify-center rounded-block border-2 px-1 text-fine whitespace-nowrap"
              :class="step.item.source === 'bought' ? 'border-willow bg-willow/15' : 'border-slate bg-slate/15'"
              :style="{
                left: `${((longest - step.begins) / longest) * 100}%`,
                width: `${Math.max(1.5, (step.leadDays / longest) * 100)}%`,
              }"
              >{{ step.leadDays }}</span
            ></span
          >
        </li>
      </ol>
    </UiSheet>
    <UiSheet title="What one weighs">
      <template v-if="mass && item">
        <p v-if="mass.known.valueOf() > 0">
          <b class="text-2xl font-semibold">{{ printed(mass.known, 4) }}</b>{{ ' ' }}
          <span class="text-soft"
            >kg for one {{ item.symbol }}{{ mass.unknown.length ? ', as far as weights are known' : '' }}</span
          >
        </p>
        <p v-if="mass.unknown.length" class="mt-2 text-soft">
          No weight is known of
          <template v-for="(id, index) in mass.unknown" :key="id"
            >{{ index ? ', ' : ''
            }}<NuxtLink :to="`/catalogue/${id}`" class="underline">{{
              structure!.items.get(String(id))?.code
            }}</NuxtLink></template
          >. Say on the item what one weighs: a bridge such as 1
          {{ structure!.items.get(String(mass.unknown[0]))?.symbol }} = {{ amount('0.12') }} kg.
        </p>
      </template>
    </UiSheet>
  </div>
</template>
