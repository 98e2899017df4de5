<script setup lang="ts">
import type { SubstitutedRow } from '~/composables/purchasing/use-substitutes'

/** Something else came than was ordered: which item, and how much of what was ordered it counts as. */
const props = defineProps<{ errors: { substituteId?: string; countsAs?: string } }>()
const row = defineModel<SubstitutedRow>({ required: true })
const references = useReferences()
const { choose, drop, countedByRatio } = useSubstitutes()
const isAsking = ref(false)
const chosen = ref<number | null>(row.value.instead?.itemId ?? null)
watch(chosen, (itemId) => {
  if (itemId !== null) {
    void choose(row.value, itemId)
  }
})
watch(
  () => row.value.instead?.itemId ?? null,
  (itemId) => {
    chosen.value = itemId
  },
)
function undo(): void {
  isAsking.value = false
  chosen.value = null
  drop(row.value)
}
const hint = computed(() => {
  const counted = countedByRatio(row.value)
  return counted ? `empty: ${counted}, by the catalogue` : 'empty: as much as came'
})
const isOpen = computed(() => isAsking.value || row.value.instead !== null)
const errors = computed(() => props.errors)
</script>

<template>
  <div v-if="isOpen" class="mt-3 grid grid-cols-1 items-start gap-3 md:grid-cols-[20rem_12rem_auto]">
    <UiItemField
      v-model="chosen"
      :label="`Came instead of ${row.line.code}`"
      :shown="row.instead && { id: row.instead.itemId, code: row.instead.code, name: '' }"
      :error="errors.substituteId"
    />
    <UiTextField
      v-if="row.instead"
      v-model="row.countsAs"
      right
      :label="`Counts as, ${references.symbol(row.line.unit)} ${row.line.code}`"
      :hint="hint"
      :error="errors.countsAs"
    />
    <UiButton small class="beside-field justify-self-start" @click="undo">It was {{ row.line.code }}</UiButton>
    <p v-if="row.line.substitutes.length && !row.instead" class="flex flex-wrap items-center gap-2 md:col-span-3">
      <span class="text-soft">May come instead:</span>
      <UiButton
        v-for="substitute in row.line.substitutes"
        :key="substitute.itemId"
        small
        @click="chosen = substitute.itemId"
        >{{ substitute.code }} {{ substitute.name }}</UiButton
      >
    </p>
  </div>
  <UiButton v-else small class="mt-2" @click="isAsking = true">Something else came</UiButton>
</template>
