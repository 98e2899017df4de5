<script setup lang="ts">
import type { ItemName } from '~~/shared/catalogue/answers'
import type { Step } from '~~/core/calendar/periods'
import type { SalesMeasure } from '~/composables/demand/use-sales-years'

const route = useRoute()
const session = useSession()
const references = useReferences()
const { money, currency } = usePrint()
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
const measure = ref<SalesMeasure>(itemId.value ? 'quantity' : 'value')
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

const sales = useSalesYears(
  () => data.value,
  () => step.value,
  () => measure.value,
)
const { chart } = sales
const correctMonth = useTemplateRef('correctMonth')
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
          <UiItemField v-model="itemId" :shown="shownItem" label="Item" hide-label @chosen="picked" />
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
        <UiChoice
          v-else
          v-model="groupId"
          label="Group"
          hide-label
          empty="All groups"
          :options="references.groupChoices"
        />
        <UiPartnerField v-model="customerId" kind="customer" label="Customer" hide-label empty="All customers" />
        <UiChoice
          v-model="siteId"
          label="Site"
          hide-label
          empty="All sites"
          :options="references.choices(references.sites)"
        />
        <UiChoice
          v-model="step"
          label="By"
          hide-label
          :options="[
            { value: 'month', name: 'by month' },
            { value: 'week', name: 'by week' },
            { value: 'day', name: 'by day' },
          ]"
        />
        <UiChoice
          v-model="measure"
          label="Measure"
          hide-label
          :options="[
            { value: 'quantity', name: data?.symbol ? `units (${data.symbol})` : 'units: choose one item' },
            { value: 'value', name: `sales in ${currency}` },
            ...(session.allows('costs') ? [{ value: 'margin' as const, name: `margin in ${currency}` }] : []),
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
      <UiProblem :text="error ? problemOf(error).detail : ''" />
    </UiSheet>
    <UiEmptyState
      v-if="data && data.periods.length === 0"
      title="Nothing sold here"
      summary="What is shipped appears by itself. Sales from before can be brought in from a file, with item, day, quantity and value."
    />
    <div v-else-if="data" class="grid items-start gap-3" :class="step !== 'day' && 'lg:grid-cols-[1fr_27rem]'">
      <div class="grid gap-3">
        <UiSheet>
          <UiChart
            :label="`Sales by ${step}, year beside year`"
            :series="chart.series as never"
            :options="chart.options as never"
            :height="300"
          />
        </UiSheet>
        <DemandHistoryCorrections v-if="itemId !== null" :item-id="itemId" :history="data" @changed="refresh()" />
      </div>
      <DemandHistoryYears
        v-if="step !== 'day'"
        :history="data"
        :sales="sales"
        :step="step"
        :may-correct="mayCorrect"
        @correct="correctMonth?.begin($event)"
      />
    </div>
    <DemandCorrectMonth ref="correctMonth" :item-id="itemId" :history="data ?? null" @changed="refresh()" />
    <p v-if="step === 'day' && data" class="text-fine text-soft">
      The last 90 days. {{ money(data.periods.reduce((sum, row) => sum + BigInt(row.value), 0n)) }} in all.
    </p>
  </div>
</template>
