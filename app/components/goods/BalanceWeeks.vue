<script setup lang="ts">
import type { TimelineRow } from '~~/shared/catalogue/answers'
import { drawCell } from '~/composables/planning/use-board'

/** An item's balance week by week, drawn as on the plan board: on its safety line, with holes hanging below. */
const props = defineProps<{
  rows: readonly TimelineRow[]
  onHand: string
  safetyStock: string
  symbol: string
  source: string
}>()
const session = useSession()
const { day, digits } = usePrint()
const SHOWN_WEEKS = 12
const weeks = computed(() => balanceWeeks(props.rows, props.onHand, session.today, SHOWN_WEEKS))
const scale = computed(() => {
  const top = Math.max(
    Number(props.safetyStock),
    1e-9,
    ...weeks.value.map((week) => Math.max(week.cell.projectedAvailable, week.cell.scheduledReceipts)),
  )
  const lowest = Math.min(0, ...weeks.value.map((week) => week.cell.lowestProjected))
  const source = props.source === 'bought' ? 'buy' : 'make'
  return { top, bottom: Math.min(lowest, -top * 0.25), safety: Number(props.safetyStock), source }
})
const isShort = (lowest: string): boolean => lowest.startsWith('-')
const isLow = (lowest: string): boolean => !isShort(lowest) && Number(lowest) < Number(props.safetyStock)
</script>

<template>
  <figure v-if="rows.length" class="m-0 min-w-0">
    <figcaption class="mb-1 text-fine text-soft">
      Projected balance by week, in {{ symbol }}<template v-if="safetyStock !== '0'">, on its safety stock</template>;
      planned orders are on the <NuxtLink to="/planning" class="underline">plan board</NuxtLink>
    </figcaption>
    <div class="overflow-x-auto" tabindex="0" role="region" aria-label="Projected balance by week">
      <UiLinesTable is-bare class="w-full border-collapse text-center text-fine" aria-label="Projected balance by week">
        <thead>
          <tr class="text-soft">
            <th v-for="week in weeks" :key="week.first" scope="col" class="min-w-12 font-normal whitespace-nowrap">
              {{ day(week.first) }}
            </th>
          </tr>
        </thead>
        <tbody>
          <tr>
            <td
              v-for="week in weeks"
              :key="week.first"
              class="border-l border-line/60 p-0 first:border-l-0"
              :title="week.labels.join('\n')"
            >
              <svg
                viewBox="0 0 64 46"
                preserveAspectRatio="none"
                class="block h-[46px] w-full"
                aria-hidden="true"
                v-html="drawCell(week.cell, scale)"
              />
              <b v-if="isShort(week.lowest)" class="block px-1 font-semibold whitespace-nowrap text-brick">{{
                digits(week.lowest).replace('-', '−')
              }}</b>
              <span
                v-else
                class="block px-1 whitespace-nowrap"
                :class="isLow(week.lowest) ? 'font-semibold text-brick' : 'text-soft'"
                >{{ digits(week.balance) }}</span
              >
            </td>
          </tr>
        </tbody>
      </UiLinesTable>
    </div>
  </figure>
</template>
