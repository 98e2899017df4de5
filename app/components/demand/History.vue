<script setup lang="ts">
import type { ItemName } from '~~/shared/catalogue/answers'
import { grouped } from '~~/core/units/quantity'
import { ratio, toDecimal } from '~~/core/units/exact'
import type { Step } from '~~/core/calendar/periods'

const route = useRoute()
const session = useSession()
const references = useReferences()
const notices = useNotices()
const { day, amount, money, currency } = usePrint()
const itemId = ref<number | null>(Number(route.query.item) || null)
const shownItem = ref<ItemName | null>(null)
if (itemId.value) {
  const item = await $fetch<ItemName>(`/api/catalogue/items/${itemId.value}`).catch(() => null)
  shownItem.value = item && { id: item.id, code: item.code, name: item.name }
}
const groupId = ref<number | null>(null)
const customerId = ref<number | null>(null)
const siteId = ref<number | null>(null)
const step = ref<Step>('month')
const measure = ref<'quantity' | 'value' | 'margin'>(itemId.value ? 'quantity' : 'value')
const query = computed(() => ({
  step: step.value,
  ...(itemId.value && { itemId: itemId.value }),
  ...(groupId.value && { groupId: groupId.value }),
  ...(customerId.value && { customerId: customerId.value }),
  ...(siteId.value && { siteId: siteId.value }),
}))
const { data, error, refresh } = await useFetch('/api/demand/history', { query })
const fileQuery = computed(() =>
  new URLSearchParams(Object.entries(query.value).map(([key, value]) => [key, String(value)])).toString(),
)

type Row = NonNullable<typeof data.value>['periods'][number]
const shown = computed(() => (measure.value === 'quantity' && !data.value?.symbol ? 'value' : measure.value))
/** The measure as a figure: units as they are, money in major units; null where it is not known. */
const figure = (row: Row): number | null => {
  if (shown.value === 'quantity') {
    return Number(row.quantity)
  }
  if (shown.value === 'value') {
    return Number(row.value) / 100
  }
  if (row.cost === null) {
    return null
  }
  return (Number(row.value) - Number(row.cost)) / 100
}
const print = (value: number | null): string => {
  if (value === null) {
    return '–'
  }
  if (shown.value === 'quantity') {
    return amount(String(Math.round(value * 1e6) / 1e6))
  }
  return grouped(toDecimal(ratio(value.toFixed(2)), 0))
}
const years = computed(() => [...new Set((data.value?.periods ?? []).map((row) => row.first.slice(0, 4)))])
/** Which row of the table a period stands in: the month, or the week counted from the first Monday of its year. */
const placeOf = (first: string): number =>
  step.value === 'month'
    ? Number(first.slice(5, 7)) - 1
    : Math.floor((Date.parse(first) - Date.parse(`${first.slice(0, 4)}-01-01`)) / 604_800_000)
const table = computed(() => {
  const rowByPlace = new Map(
    (data.value?.periods ?? []).map((row) => [`${row.first.slice(0, 4)} ${placeOf(row.first)}`, row]),
  )
  return Array.from({ length: step.value === 'month' ? 12 : 53 }, (_, place) => ({
    id: place,
    name: step.value === 'month' ? monthName(place) : `week ${place + 1}`,
    cells: years.value.map((year) => rowByPlace.get(`${year} ${place}`) ?? null),
  })).filter((row) => row.cells.some(Boolean))
})
const totals = computed(() =>
  years.value.map((year) =>
    (data.value?.periods ?? [])
      .filter((row) => row.first.startsWith(year))
      .reduce<number | null>((sum, row) => {
        const own = figure(row)
        return own === null || sum === null ? null : sum + own
      }, 0),
  ),
)
const SHADES = ['line', 'stone', 'stone', 'ink', 'maple']
const chart = computed(() => {
  if (step.value === 'day') {
    return {
      series: [
        {
          name: 'sold',
          data: (data.value?.periods ?? []).map((row) => ({ x: Date.parse(row.first), y: figure(row) })),
        },
      ],
      options: { chart: { type: 'bar' as const }, colors: ['maple'], xaxis: { type: 'datetime' as const } },
    }
  }
  return {
    series: years.value.map((year, rowByPlace) => ({
      name: year,
      data: table.value.map((row) => {
        const cell = row.cells[rowByPlace]
        const value = cell && cell.last < session.today ? figure(cell) : null
        return value === null ? null : Math.round(value * 100) / 100
      }),
    })),
    options: {
      chart: { type: 'line' as const },
      colors: SHADES.slice(-years.value.length),
      stroke: {
        width: years.value.map((_, rowByPlace) => (rowByPlace === years.value.length - 1 ? 3.5 : 2)),
        dashArray: years.value.map((_, rowByPlace) =>
          rowByPlace === years.value.length - 1 ? 0 : [6, 4, 2, 0][(years.value.length - 2 - rowByPlace) % 4]!,
        ),
      },
      markers: { size: 3 },
      xaxis: { categories: table.value.map((row) => row.name) },
      yaxis: {
        labels: {
          formatter: (value: number) =>
            value >= 10 || Number.isInteger(value) ? grouped(value.toFixed(0)) : value.toFixed(1),
        },
      },
    },
  }
})
const correctionOf = (row: Row) =>
  data.value?.corrections.find((correction) => correction.firstOn <= row.first && correction.lastOn >= row.first)

const correcting = reactive({ open: false, firstOn: '', lastOn: '', sold: '', quantity: '', reason: '' })
const borrowing = reactive({ open: false, fromItemId: null as number | null, percent: '100', untilOn: '' })
const act = useAct()
function beginCorrection(row: Row): void {
  Object.assign(correcting, {
    open: true,
    firstOn: row.first,
    lastOn: row.last,
    sold: row.quantity ?? '0',
    quantity: correctionOf(row)?.quantity ?? row.quantity ?? '0',
    reason: correctionOf(row)?.reason ?? '',
  })
}
async function correct(): Promise<void> {
  if (
    !(await act.run(() =>
      $fetch('/api/demand/history/corrections', {
        method: 'POST',
        body: {
          itemId: itemId.value,
          firstOn: correcting.firstOn,
          lastOn: correcting.lastOn,
          quantity: correcting.quantity,
          reason: correcting.reason,
        },
      }),
    ))
  ) {
    return
  }
  correcting.open = false
  notices.say({
    kind: 'done',
    text: `${day(correcting.firstOn)} – ${day(correcting.lastOn)} counts as ${amount(correcting.quantity)} in forecasts. The books are as they were.`,
  })
  await refresh()
}
async function takeBack(path: string): Promise<void> {
  if (await act.run(() => $fetch(path, { method: 'DELETE' }))) {
    await refresh()
  }
}
async function borrow(): Promise<void> {
  if (
    !(await act.run(() =>
      $fetch('/api/demand/history/borrowings', {
        method: 'POST',
        body: {
          itemId: itemId.value,
          fromItemId: borrowing.fromItemId,
          percent: borrowing.percent,
          untilOn: borrowing.untilOn,
        },
      }),
    ))
  ) {
    return
  }
  borrowing.open = false
  await refresh()
}
const picked = (item: ItemName): void => {
  shownItem.value = item
  groupId.value = null
  measure.value = 'quantity'
}
const mayCorrect = computed(
  () =>
    itemId.value !== null &&
    step.value === 'month' &&
    customerId.value === null &&
    siteId.value === null &&
    session.allows('demand'),
)
</script>

<template>
  <div class="grid gap-3">
    <UiSheet flush>
      <div class="flex flex-wrap items-center gap-2 px-4 py-2">
        <div class="w-60">
          <FormItem v-model="itemId" :shown="shownItem" label="Item" hide-label @chosen="picked" />
        </div>
        <UiButton
          v-if="itemId !== null"
          small
          @click="
            () => {
              itemId = null
              shownItem = null
            }
          "
          >All items</UiButton
        >
        <FormSelect
          v-else
          v-model="groupId"
          label="Group"
          hide-label
          empty="All groups"
          :options="references.groupChoices"
        />
        <FormSelect
          v-model="customerId"
          label="Customer"
          hide-label
          empty="All customers"
          :options="references.choices(references.customers)"
        />
        <FormSelect
          v-model="siteId"
          label="Site"
          hide-label
          empty="All sites"
          :options="references.choices(references.sites)"
        />
        <FormSelect
          v-model="step"
          label="By"
          hide-label
          :options="[
            { value: 'month', name: 'by month' },
            { value: 'week', name: 'by week' },
            { value: 'day', name: 'by day' },
          ]"
        />
        <FormSelect
          v-model="measure"
          label="Measure"
          hide-label
          :options="[
            { value: 'quantity', name: data?.symbol ? `units (${data.symbol})` : 'units: choose one item' },
            { value: 'value', name: `sales in ${currency}` },
            { value: 'margin', name: `margin in ${currency}` },
          ]"
        />
        <span class="flex-1" />
        <a
          v-for="format in ['csv', 'xlsx']"
          :key="format"
          :href="`/api/demand/history/file?format=${format}&${fileQuery}`"
          class="text-soft underline"
          download
          >{{ format.toUpperCase() }}</a
        >
        <NuxtLink v-if="session.allows('demand')" to="/catalogue/files?table=past-sales" class="text-soft underline"
          >Bring past sales in</NuxtLink
        >
      </div>
      <UiProblem :text="error ? problemOf(error).detail : act.detail.value" />
    </UiSheet>
    <UiEmpty
      v-if="data && data.periods.length === 0"
      title="Nothing sold here"
      summary="What is shipped appears by itself. Sales from before can be brought in from a file, with item, day, quantity and value."
    />
    <div v-else-if="data" class="grid items-start gap-3" :class="step !== 'day' && 'lg:grid-cols-[1fr_27rem]'">
      <div class="grid gap-3">
        <UiSheet>
          <DemandChart
            :label="`Sales by ${step}, year beside year`"
            :series="chart.series as never"
            :options="chart.options as never"
            :height="300"
          />
        </UiSheet>
        <UiSheet v-if="itemId !== null" title="What forecasts take it for">
          <p v-if="data.corrections.length === 0" class="text-soft">
            Every month counts as it was sold. Click a month to let it count as something else: an order that will not
            come again, a month out of stock.
          </p>
          <ul class="grid gap-2">
            <li v-for="correction in data.corrections" :key="correction.id">
              <b class="font-semibold">{{ day(correction.firstOn) }} – {{ day(correction.lastOn) }}</b> counts as
              {{ amount(correction.quantity) }} {{ data.symbol
              }}<span v-if="correction.reason" class="text-soft">: {{ correction.reason }}</span
              >{{ ' ' }}
              <button
                v-if="session.allows('demand')"
                type="button"
                class="text-soft underline"
                @click="takeBack(`/api/demand/history/corrections/${correction.id}`)"
              >
                take back
              </button>
            </li>
          </ul>
          <div class="mt-3 border-t border-line pt-3">
            <p v-if="data.borrowing">
              Borrows {{ data.borrowing.percent }} % of what
              <UiItemChip :id="data.borrowing.fromItemId" :code="data.borrowing.code" /> sold until
              {{ day(data.borrowing.untilOn) }}.
              <button
                v-if="session.allows('demand')"
                type="button"
                class="text-soft underline"
                @click="takeBack(`/api/demand/history/borrowings/${itemId}`)"
              >
                end it
              </button>
            </p>
            <UiButton
              v-else-if="session.allows('demand')"
              small
              @click="
                Object.assign(borrowing, { open: true, fromItemId: null, percent: '100', untilOn: session.today })
              "
              >Borrow another item’s history</UiButton
            >
            <p v-for="loan in data.lentTo" :key="loan.itemId" class="mt-2 text-soft">
              <UiItemChip :id="loan.itemId" :code="loan.code" /> borrows {{ loan.percent }} % of this until
              {{ day(loan.untilOn) }}.
            </p>
          </div>
        </UiSheet>
      </div>
      <UiSheet v-if="step !== 'day'">
        <div class="overflow-x-auto">
          <table class="w-full border-collapse" :aria-label="`Sales by ${step} and year`">
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
                    @click="beginCorrection(cell)"
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
                  }}<span
                    v-if="index > 0 && total !== null && totals[index - 1] && index < totals.length - 1"
                    class="block text-fine font-normal text-soft"
                    >{{ total >= totals[index - 1]! ? '+' : '−'
                    }}{{ Math.abs((total / totals[index - 1]! - 1) * 100).toFixed(0) }} %</span
                  >
                </td>
              </tr>
            </tfoot>
          </table>
        </div>
      </UiSheet>
    </div>
    <UiConfirm
      v-model="correcting.open"
      title="What this month counts as"
      :act="`Count it as ${correcting.quantity || '…'}`"
      :busy="act.busy.value"
      :problem="Object.keys(act.fields.value).length ? '' : act.detail.value"
      @act="correct"
    >
      <p class="mb-3">
        {{ day(correcting.firstOn) }} – {{ day(correcting.lastOn) }}: {{ amount(correcting.sold || '0') }}
        {{ data?.symbol }} sold. Stock and books stay as they are; only forecasts read it differently.
      </p>
      <div class="grid grid-cols-[9rem_1fr] gap-3">
        <FormText
          v-model="correcting.quantity"
          label="Counts as"
          right
          :error="act.fields.value.quantity ?? act.fields.value.firstOn"
        /><FormText
          v-model="correcting.reason"
          label="Why"
          placeholder="One large order that will not come again"
          :error="act.fields.value.reason"
        />
      </div>
    </UiConfirm>
    <UiConfirm
      v-model="borrowing.open"
      title="Borrow another item’s history"
      act="Borrow it"
      :busy="act.busy.value"
      :problem="Object.keys(act.fields.value).length ? '' : act.detail.value"
      @act="borrow"
    >
      <div class="grid grid-cols-[1fr_7rem_11rem] gap-3">
        <FormItem v-model="borrowing.fromItemId" label="From" :error="act.fields.value.fromItemId" /><FormText
          v-model="borrowing.percent"
          label="Per cent"
          right
          :error="act.fields.value.percent"
        /><FormText v-model="borrowing.untilOn" label="Up to" type="date" :error="act.fields.value.untilOn" />
      </div>
      <p class="mt-3 text-fine text-soft">
        Up to that day, this share of what the other sold counts as sold of this one, beside its own sales.
      </p>
    </UiConfirm>
    <p v-if="step === 'day' && data" class="text-fine text-soft">
      The last 90 days. {{ money(data.periods.reduce((sum, row) => sum + BigInt(row.value), 0n)) }} in all.
    </p>
  </div>
</template>
