<script setup lang="ts">
import type { ItemName } from '~~/shared/catalogue/answers'
import type { CostMethod } from '~~/core/costing'
import { COSTINGS } from '~~/shared/catalogue/words'
import { METHOD_SAYS } from '~~/shared/books/words'
import type { Revaluing } from '~~/shared/books/requests'

const emit = defineEmits<{ changed: [] }>()
const notices = useNotices()
const { money, price } = usePrint()
const chosen = ref<ItemName[]>([])
const adding = ref<number | null>(null)
const form = reactive({ method: 'first in, first out' as string, standardCost: '' })
const now = ref<Record<number, { costing: string; standardCost: string | null }>>({})
const preview = ref<Revaluing | null>(null)
const { busy, detail, fields, run, clear } = useAct()
/** One item at a new standard of its own, or some items at another method. */
const isStandard = computed(
  () =>
    chosen.value.length === 1 && now.value[chosen.value[0]!.id]?.costing === 'standard' && form.method === 'standard',
)
watch(
  [chosen, () => form.method, () => form.standardCost],
  () => {
    preview.value = null
    clear()
  },
  { deep: true },
)
async function add(item: ItemName): Promise<void> {
  if (chosen.value.some((choice) => choice.id === item.id)) {
    return
  }
  const { costing, standardCost } = await $fetch(`/api/catalogue/items/${item.id}`)
  now.value = { ...now.value, [item.id]: { costing, standardCost } }
  chosen.value = [...chosen.value, item]
  if (chosen.value.length === 1 && costing === 'standard') {
    form.method = 'standard'
  }
}
const body = computed(() =>
  isStandard.value
    ? { itemId: chosen.value[0]!.id, cost: form.standardCost }
    : {
        itemIds: chosen.value.map((choice) => choice.id),
        method: form.method,
        standardCost: form.method === 'standard' ? form.standardCost : '',
      },
)
async function loadPreview(): Promise<void> {
  preview.value = await run<Revaluing>(() =>
    $fetch(isStandard.value ? '/api/books/costing/preview-standard' : '/api/books/costing/preview', {
      method: 'POST',
      body: body.value,
    }),
  )
}
async function change(): Promise<void> {
  const done = await run<Revaluing>((key) =>
    $fetch(isStandard.value ? '/api/books/costing/standard' : '/api/books/costing/change', {
      method: 'POST',
      body: { key, ...body.value },
    }),
  )
  if (!done) {
    return
  }
  notices.say({
    kind: 'done',
    text: `${chosen.value.map((choice) => choice.code).join(', ')}: costed by ${form.method} from now on.`,
  })
  chosen.value = []
  preview.value = null
  emit('changed')
}
</script>

<template>
  <div class="grid grid-cols-1 md:grid-cols-[24rem_1fr] items-start gap-4">
    <UiSheet title="How items are costed">
      <form class="grid gap-3" @submit.prevent="loadPreview">
        <UiItemField v-model="adding" label="Add an item" :error="fields.itemIds" @chosen="add" />
        <p v-if="chosen.length" class="flex flex-wrap gap-2">
          <span v-for="item in chosen" :key="item.id" class="inline-flex items-center gap-1"
            ><UiItemChip :id="item.id" :code="item.code" /><span class="text-fine text-soft"
              >{{ now[item.id]?.costing
              }}<template v-if="now[item.id]?.costing === 'standard' && now[item.id]?.standardCost">
                {{ price(now[item.id]!.standardCost!) }}</template
              ></span
            ><button
              type="button"
              class="text-soft hover:text-ink"
              :aria-label="`Leave ${item.code} out`"
              @click="chosen = chosen.filter((entry) => entry.id !== item.id)"
            >
              ×
            </button></span
          >
        </p>
        <UiChoice
          v-model="form.method"
          label="From now on by"
          :options="COSTINGS.map((c) => ({ value: c, name: c }))"
          :hint="METHOD_SAYS[form.method as CostMethod]"
          :error="fields.method"
        />
        <UiMoneyField
          v-if="form.method === 'standard'"
          v-model="form.standardCost"
          label="Standard cost of one"
          :error="fields.standardCost ?? fields.cost"
        />
        <UiProblem :text="Object.keys(fields).length ? '' : detail" />
        <UiButton type="submit" :busy="busy" :disabled="chosen.length === 0">See what it does</UiButton>
      </form>
    </UiSheet>
    <UiSheet v-if="preview" title="What it does to values" flush>
      <UiLinesTable class="w-full" aria-label="Re-valuation">
        <thead>
          <tr class="text-left text-fine text-soft">
            <th class="px-4 py-2 font-medium">Stock of</th>
            <th class="px-4 py-2 text-right font-medium">Before</th>
            <th class="px-4 py-2 text-right font-medium">After</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="item in preview.items" :key="item.itemId" class="h-9 border-t border-line/60">
            <td class="px-4"><UiItemChip :id="item.itemId" :code="item.code" :name="item.name" /></td>
            <td class="px-4 text-right text-soft">{{ money(item.before) }}</td>
            <td class="px-4 text-right font-semibold">{{ money(item.after) }}</td>
          </tr>
        </tbody>
      </UiLinesTable>
      <div class="border-t border-line px-4 py-3">
        <p v-if="preview.accounts.length === 0" class="text-soft">No amount changes.</p>
        <template v-else
          ><p class="mb-1 text-fine font-medium text-soft">In the journal</p>
          <ul>
            <li v-for="account in preview.accounts" :key="account.account" class="flex max-w-sm justify-between">
              <span>{{ account.account }}</span><span
                >{{ account.amount.startsWith('-') ? '' : '+' }}{{ money(account.amount) }}</span
              >
            </li>
          </ul></template
        >
        <p class="mt-2 text-soft">
          All that ever moved is worked out again; {{ preview.moves }}
          {{ plural(preview.moves, 'move is', 'moves are') }} worth something else. It is recorded as one re-valuation.
        </p>
        <UiButton primary class="mt-3" :busy="busy" @click="change"
          >Change how {{ preview.items.length === 1 ? preview.items[0]!.code : `${preview.items.length} items` }}
          {{ plural(preview.items.length, 'is', 'are') }} costed</UiButton
        >
      </div>
    </UiSheet>
    <UiEmptyState
      v-else
      title="Nothing changes yet"
      summary="Choose items and a method. You see what it does to the value of stock and to the accounts before anything is changed."
    />
  </div>
</template>
