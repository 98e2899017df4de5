<script setup lang="ts">
/**
 * From one day to another, both included (ISO 8601; empty: open at that end), typed or taken from the periods of the
 * calendar.
 */
defineProps<{ label: string }>()
const from = defineModel<string>('from', { required: true })
const until = defineModel<string>('until', { required: true })
const session = useSession()
const isBackward = computed(() => from.value !== '' && until.value !== '' && until.value < from.value)
const acts = computed(() => [
  ...periodsAround(session.today).map((period) => ({
    name: period.name,
    act: () => {
      from.value = period.from
      until.value = period.until
    },
  })),
  {
    name: 'All days',
    act: () => {
      from.value = ''
      until.value = ''
    },
  },
])
</script>

<template>
  <fieldset class="flex flex-wrap items-start gap-2">
    <legend class="sr-only">{{ label }}</legend>
    <UiDateField v-model="from" class="w-40" label="From" placeholder="from" hide-label />
    <UiDateField
      v-model="until"
      class="w-40"
      label="Until"
      placeholder="until"
      hide-label
      :error="isBackward ? 'It ends before it begins.' : undefined"
    />
    <UiMenu label="Period" :acts="acts" />
  </fieldset>
</template>
