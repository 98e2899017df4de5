<script setup lang="ts">
import type { HappenedSince } from '~~/shared/planning/answers'

/** When a plan was computed, and what has come since: its figures stand on what was there before. */
const props = defineProps<{ at: string | null; since: readonly HappenedSince[] }>()
const { clock } = usePrint()
/** What is noted under the name of its list. */
const ONE: Readonly<Record<string, string>> = {
  items: 'item',
  bills: 'bill',
  'break-downs': 'break-down recipe',
  suppliers: 'supplier',
  calendars: 'calendar',
  'transfer in': 'arrival',
  'transfer out': 'departure',
}
const came = computed(() =>
  props.since
    .map(({ what, count }) => `${count} ${plural(count, ONE[what] ?? what, `${ONE[what] ?? what}s`)}`)
    .join(', '),
)
</script>

<template>
  <ClientOnly>
    <p v-if="at" class="mb-2 text-fine text-soft" data-test="computed">
      Computed {{ clock(at) }}<template v-if="came">; since then {{ came }}</template
      >.
    </p>
  </ClientOnly>
</template>
