<script setup lang="ts">
import type { Explosion } from '~~/shared/structure/answers'
import { COST_BASES, EXPLOSIONS } from '~~/shared/structure/words'

const props = defineProps<{ itemId: number; billId: number; symbol: string; batch: string }>()
const { price } = usePrint()
const quantity = ref(props.batch)
const how = ref<(typeof EXPLOSIONS)[number]>('indented')
const basis = ref<(typeof COST_BASES)[number]>('current')
const query = computed(() => ({
  quantity: quantity.value || '1',
  how: how.value,
  basis: basis.value,
  revision: props.billId,
}))
const { data, error } = await useFetch<Explosion>(() => `/api/structure/${props.itemId}/explode`, { query })
const file = (format: string): string =>
  `/api/structure/${props.itemId}/explode?${new URLSearchParams(Object.entries({ ...query.value, format }).map(([k, v]) => [k, String(v)]))}`
const percent = (part: string, whole: string): string =>
  Number(whole) === 0 ? '' : `${Math.round((Number(part) / Number(whole)) * 100)} %`
const session = useSession()
const seesCosts = computed(() => session.allows('costs'))
const SHARES = computed(() =>
  data.value && seesCosts.value
    ? (
        [
          ['material', 'bg-maple'],
          ['work', 'bg-slate'],
          ['other', 'bg-stone'],
        ] as const
      ).map(([name, face]) => ({
        name,
        face,
        money: data.value!.cost[name],
        share: percent(data.value!.cost[name], data.value!.cost.total),
        width:
          Number(data.value!.cost.total) === 0
            ? 0
            : (Number(data.value!.cost[name]) / Number(data.value!.cost.total)) * 100,
      }))
    : [],
)
const BASIS_NAMES: Readonly<Record<(typeof COST_BASES)[number], string>> = {
  current: 'at current cost',
  standard: 'at standard cost',
  'best supplier price': 'at the best supplier price',
}
const missing = computed(() => (data.value?.rows ?? []).filter((row) => row.isShort).length)
</script>

<template>
  <UiSheet flush title="Components and cost">
    <template #head>
      <label class="flex items-center gap-1.5 text-soft"
        >for
        <input
          v-model.lazy="quantity"
          class="h-8 w-20 rounded-block border border-line bg-sheet px-2 text-right text-ink"
          aria-label="Quantity to explode"
        />
        {{ symbol }}</label
      >
      <UiChoice
        v-model="how"
        label="How to show it"
        hide-label
        compact
        class="w-52"
        :options="
          EXPLOSIONS.map((level) => ({ value: level, name: level === 'summed' ? 'summed over all levels' : level }))
        "
      />
      <UiChoice
        v-if="seesCosts"
        v-model="basis"
        label="Costs from"
        hide-label
        compact
        class="w-52"
        :options="COST_BASES.map((value) => ({ value, name: BASIS_NAMES[value] }))"
      />
      <template v-if="seesCosts"
        ><a :href="file('csv')" class="text-soft underline" download>CSV</a
        ><a :href="file('xlsx')" class="text-soft underline" download>XLSX</a></template
      ><a
        :href="`/api/structure/${itemId}/levels`"
        class="text-soft underline"
        download
        title="As it is written, to be brought in again"
        >as written</a
      >
    </template>
    <UiProblem v-if="error" :text="problemOf(error).detail" class="m-4" />
    <template v-else-if="data">
      <div v-if="seesCosts" class="border-b border-line px-4 py-3">
        <div class="flex h-5 gap-0.5 overflow-hidden rounded-block" aria-hidden="true">
          <span v-for="share in SHARES" :key="share.name" :class="share.face" :style="{ width: `${share.width}%` }" />
        </div>
        <p class="mt-1.5 flex flex-wrap gap-x-5 text-soft">
          <b class="font-semibold text-ink">{{ price(data.cost.total) }}</b><span
            v-for="share in SHARES"
            :key="share.name"
            ><span class="mr-1.5 inline-block size-2.5 rounded-[2px]" :class="share.face" />{{ share.name }}
            {{ price(share.money) }} <span class="text-fine">{{ share.share }}</span></span
          ><span v-if="missing" class="text-brick">{{ missing }} not all there</span>
        </p>
        <p v-if="data.unpriced.length" class="text-fine text-brick">
          No price known of {{ data.unpriced.join(', ') }}; counted as nothing.
        </p>
      </div>
      <UiLinesTable class="w-full" :aria-label="`Explosion of ${data.code}`">
        <thead>
          <tr class="text-left text-fine text-soft">
            <th class="px-4 py-2 font-medium">{{ how === 'summed' ? 'Item' : 'Level and item' }}</th>
            <th class="px-2 py-2 text-right font-medium">Quantity</th>
            <th class="px-2 py-2 text-right font-medium">Free</th>
            <template v-if="seesCosts">
              <th class="px-2 py-2 text-right font-medium">Cost of one</th>
              <th class="px-2 py-2 text-right font-medium">Material</th>
              <th class="px-2 py-2 text-right font-medium">Work</th>
              <th class="px-2 py-2 text-right font-medium">Other</th>
              <th class="px-2 py-2 text-right font-medium">Cost</th>
              <th class="px-4 py-2 text-right font-medium">Share</th>
            </template>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(row, index) in data.rows" :key="index" class="border-t border-line/60">
            <td
              class="px-4 py-1"
              :style="{ paddingLeft: how === 'summed' ? undefined : `${row.level * 1.25 - 0.25}rem` }"
            >
              <UiItemChip :id="row.itemId" :code="row.code" :name="row.name" />
            </td>
            <td class="px-2 py-1 text-right"><UiQty :of="row.quantity" :unit="row.symbol" :decimals="4" /></td>
            <td class="px-2 py-1 text-right" :class="row.isShort ? 'text-brick' : 'text-soft'">
              <UiQty :of="row.free" unit="" />
            </td>
            <template v-if="seesCosts">
              <td class="px-2 py-1 text-right text-soft">{{ price(row.unitCost) }}</td>
              <td class="px-2 py-1 text-right text-soft">{{ price(row.cost.material) }}</td>
              <td class="px-2 py-1 text-right text-soft">{{ Number(row.cost.work) ? price(row.cost.work) : '' }}</td>
              <td class="px-2 py-1 text-right text-soft">{{ Number(row.cost.other) ? price(row.cost.other) : '' }}</td>
              <td class="px-2 py-1 text-right">{{ price(row.cost.total) }}</td>
              <td class="px-4 py-1 text-right text-soft">{{ percent(row.cost.total, data.cost.total) }}</td>
            </template>
          </tr>
        </tbody>
      </UiLinesTable>
    </template>
  </UiSheet>
</template>
