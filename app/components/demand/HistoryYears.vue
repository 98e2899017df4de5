<script setup lang="ts">
import type { Step } from '~~/core/calendar/periods'
import type { HistoryAnswer } from '~~/shared/demand/history'
import type { SalesYears } from '~/composables/demand/use-sales-years'

type Row = HistoryAnswer['periods'][number]
const props = defineProps<{
  history: HistoryAnswer
  sales: SalesYears
  step: Step
  mayCorrect: boolean
}>()
const emit = defineEmits<{ correct: [row: Row] }>()
const session = useSession()
const { years, table, totals, changes, figure, print } = props.sales
/** What a period counts as in forecasts, where it is not what was sold. */
const correctionOf = (row: Row) => correctionFor(props.history, row)
</script>

<template>
  <UiSheet>
    <div class="overflow-x-auto">
      <UiLinesTable is-grid class="w-full border-collapse" :aria-label="`Sales by ${step} and year`">
        <thead>
          <tr class="border-b border-line text-fine text-soft">
            <th class="py-1 text-left font-medium">{{ step === 'month' ? 'Month' : 'Week' }}</th>
            <th v-for="year in years" :key="year" class="px-2 text-right font-medium">{{ year }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in table" :key="row.id" class="border-b border-line/60 last:border-0">
            <th scope="row" class="py-1 text-left font-normal text-soft">{{ row.name }}</th>
            <td v-for="(cell, index) in row.cells" :key="index" class="px-2 text-right">
              <button
                v-if="cell && mayCorrect && cell.last < session.today"
                type="button"
                class="rounded-block px-1 hover:bg-wash"
                :class="correctionOf(cell) && 'underline decoration-maple decoration-2 underline-offset-4'"
                :title="
                  correctionOf(cell)
                    ? `counts as ${correctionOf(cell)!.quantity} in forecasts`
                    : 'counts as sold; click to correct it'
                "
                @click="emit('correct', cell)"
              >
                {{ print(figure(cell)) }}
              </button>
              <span
                v-else-if="cell"
                :class="cell.last >= session.today && 'text-soft'"
                :title="cell.last >= session.today ? 'so far' : undefined"
                >{{ cell.last >= session.today ? '… ' : '' }}{{ print(figure(cell)) }}</span
              >
            </td>
          </tr>
        </tbody>
        <tfoot>
          <tr class="border-t border-line font-semibold">
            <th scope="row" class="py-1.5 text-left">Year</th>
            <td v-for="(total, index) in totals" :key="index" class="px-2 text-right">
              {{ print(total)
              }}<span v-if="changes[index]" class="block text-fine font-normal text-soft" data-test="change"
                >{{ changes[index]!.percent < 0 ? '−' : '+' }}{{ Math.abs(changes[index]!.percent) }} %<template
                  v-if="!changes[index]!.isWhole"
                >
                  in the same {{ changes[index]!.periods }}
                  {{ plural(changes[index]!.periods, step, `${step}s`) }}</template
                ></span
              >
            </td>
          </tr>
        </tfoot>
      </UiLinesTable>
    </div>
  </UiSheet>
</template>
