<script setup lang="ts">
import { tellLowStock, type LowStockLine } from '~~/shared/planning/low-stock'
import type { DataColumn } from '~/composables/ui/data-column'
import type { JobToBegin } from '~/components/workshop/NewJob.vue'

const session = useSession()
const notices = useNotices()
const { asTyped, day, isPast, digits } = usePrint()
const { data, error, refresh } = await useFetch('/api/stock/low')
const { busy, detail, fields, run } = useAct()
const form = reactive({ aheadDays: String(data.value?.aheadDays ?? 5), mail: data.value?.mail ?? true })
const isChanged = computed(
  () => data.value && (form.aheadDays !== String(data.value.aheadDays) || form.mail !== data.value.mail),
)
const lines = computed(() =>
  (data.value?.lines ?? []).map((line, index) => ({ ...line, id: `${line.itemId} ${line.siteId ?? ''} ${index}` })),
)
const several = computed(() => data.value?.lines.some((line) => line.site !== null))
async function again(): Promise<void> {
  if (await run((key) => $fetch('/api/stock/low/refresh', { method: 'POST', body: { key } }))) {
    await refresh()
    void refreshToday()
  }
}
async function keep(): Promise<void> {
  if (
    !(await run(() =>
      $fetch('/api/stock/low', { method: 'PUT', body: { aheadDays: form.aheadDays, mail: form.mail } }),
    ))
  ) {
    return
  }
  notices.say({
    kind: 'done',
    text: `Told ${form.aheadDays} working days before the last day to order${form.mail ? ', and mailed to you each morning' : ''}.`,
  })
  await refresh()
  void refreshToday()
}
/** Orders what a line asks for: a form that is filled in, to look over and send. */
const making = ref<{ kind: 'build' | 'break-down'; begin: JobToBegin } | null>(null)
const mayOrder = (line: LowStockLine): boolean => {
  if (line.kind === 'buy') {
    return line.supplierId !== undefined && session.allows('buy')
  }
  if (line.kind === 'move') {
    return line.fromSiteId !== undefined && session.allows('stock')
  }
  if (line.kind === 'make') {
    return session.allows('make')
  }
  return line.breaking !== undefined && session.allows('make')
}
/** What comes the same way as a line: it goes on one purchase order, or in one van. */
const isAlike = (line: LowStockLine, entry: LowStockLine): boolean =>
  entry.kind === line.kind &&
  entry.supplierId === line.supplierId &&
  entry.fromSiteId === line.fromSiteId &&
  entry.siteId === line.siteId
const likeIt = (line: LowStockLine): readonly LowStockLine[] =>
  line.kind === 'buy' || line.kind === 'move'
    ? (data.value?.lines ?? []).filter((entry) => isAlike(line, entry))
    : [line]
/** Told once, at the first of them that is shown. */
const isFirst = (line: LowStockLine & { id: string }): boolean =>
  lines.value.find((entry) => isAlike(line, entry))?.id === line.id
const dueOf = (line: LowStockLine): string => {
  if (line.lateBy > 0 && line.promisedOn) {
    return line.promisedOn
  }
  if (line.lowOn < session.today) {
    return session.today
  }
  return line.lowOn
}
async function order(line: LowStockLine, all = false): Promise<void> {
  const wanted = all ? likeIt(line) : [line]
  const asked = wanted.map(({ itemId, code, name, quantity, symbol, inUnit }) => ({
    itemId,
    code,
    name,
    quantity:
      line.kind === 'move' ? asTyped(quantity) : `${asTyped(inUnit?.quantity ?? quantity)} ${inUnit?.symbol ?? symbol}`,
  }))
  const due = wanted.map(dueOf).sort()[0]!
  if (line.kind === 'buy') {
    await orderTogether('/purchasing/new', asked, {
      back: 'low',
      supplier: line.supplierId!,
      due,
      ...(line.siteId === null ? {} : { site: line.siteId }),
    })
  } else if (line.kind === 'move') {
    await orderTogether('/stock/transfers/new', asked, {
      back: 'low',
      from: line.fromSiteId!,
      ...(line.siteId === null ? {} : { to: line.siteId }),
    })
  } else if (line.kind === 'make') {
    making.value = {
      kind: 'build',
      begin: {
        itemId: line.itemId,
        code: line.code,
        name: line.name,
        quantity: line.quantity,
        dueOn: due,
        siteId: line.siteId,
      },
    }
  } else if (line.breaking) {
    making.value = {
      kind: 'break-down',
      begin: { ...line.breaking, quantity: line.breaking.times, dueOn: due, siteId: line.siteId },
    }
  }
}
/** A row that is ordered stays until the list is made anew: till then nothing can be ordered twice. */
const looking = ref(false)
async function ordered(): Promise<void> {
  making.value = null
  looking.value = true
  await lookAtLowStock()
  await refresh()
  looking.value = false
}
const VERB: Readonly<Record<string, string>> = { buy: 'Buy', make: 'Build', 'break down': 'Break down', move: 'Move' }
const drawn = (line: LowStockLine) => {
  if (line.left.startsWith('-')) {
    return 'missing' as const
  }
  if (line.kind === 'make' || line.kind === 'break down') {
    return 'making planned' as const
  }
  return 'coming planned' as const
}
const todo = (line: LowStockLine): string =>
  line.kind ? `${VERB[line.kind]} ${digits(line.quantity)} ${line.symbol}` : ''
const COLUMNS = computed<readonly DataColumn[]>(() => [
  { key: 'code', name: 'Item', isFixed: true, text: (line: LowStockLine) => `${line.code} ${line.name}` },
  ...(several.value ? [{ key: 'site', name: 'Site', width: 140 }] : []),
  { key: 'onHand', name: 'On hand', kind: 'quantity', unit: 'symbol', width: 100 },
  { key: 'lowOn', name: 'Low on', kind: 'day', width: 80 },
  { key: 'left', name: 'Left then', kind: 'quantity', unit: 'symbol', width: 100 },
  { key: 'keep', name: 'Safety stock', kind: 'quantity', unit: 'symbol', width: 100 },
  { key: 'quantity', name: 'What to do', width: 240, text: todo },
  { key: 'from', name: 'From', width: 160, isHidden: true },
  { key: 'orderBy', name: 'Order by', kind: 'day', width: 100 },
  { key: 'go', name: '', isAct: true, width: 140 },
])
</script>

<template>
  <div>
    <div class="mb-3 flex flex-wrap items-end gap-x-4 gap-y-2">
      <p class="mr-auto max-w-[34rem] pb-2 text-soft">
        Each is told before the last day on which more can be ordered and still be there in time, at every site by
        itself; what is ordered counts.<span v-if="data?.lookedAt" class="block text-fine" data-test="looked"
          >As of {{ day(data.day) }}, looked at
          {{ new Date(data.lookedAt).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' }) }}.
          <NuxtLink to="/company/mail" class="underline">Your mailbox</NuxtLink></span
        >
      </p>
      <form v-if="session.allows('plan')" class="flex items-end gap-3" @submit.prevent="keep">
        <UiTextField v-model="form.aheadDays" label="Working days ahead" right class="w-36" :error="fields.aheadDays" />
        <UiCheckField v-model="form.mail" label="mail it to me each morning" />
        <UiButton v-if="isChanged" type="submit" :busy="busy">Keep</UiButton>
      </form>
      <UiButton v-if="session.allows('plan')" :busy="busy" @click="again">Look again</UiButton>
    </div>
    <UiProblem :text="Object.keys(fields).length ? '' : detail" class="mb-2" />
    <UiSheet flush>
      <UiProblem v-if="error" :text="problemOf(error).detail" />
      <UiDataTable
        list="low stock"
        label="Low stock"
        search-label="Filter item or lot"
        :columns="COLUMNS"
        :rows="lines"
      >
        <template #code="{ row }"><UiItemChip :id="row.itemId" :code="row.code" :name="row.name" /></template>
        <template #onHand="{ row }"><UiQty :of="row.onHand" :unit="row.symbol" /></template>
        <template #left="{ row }"
          ><span :class="row.left.startsWith('-') && 'font-semibold text-brick'"
            ><UiQty :of="row.left" :unit="row.symbol" /></span
        ></template>
        <template #keep="{ row }"><UiQty :of="row.keep" :unit="row.symbol" /></template>
        <template #quantity="{ row }"
          ><span class="flex items-center gap-2" :title="tellLowStock(row, { day, digits })"
            ><GoodsBlock :state="drawn(row)" class="h-3.5 w-6 shrink-0" /><span v-if="row.kind"
              >{{ VERB[row.kind] }} <b class="font-medium">{{ digits(row.inUnit?.quantity ?? row.quantity) }}</b>{{ ' '
              }}<span class="text-soft"
                >{{ row.inUnit?.symbol ?? row.symbol
                }}<template v-if="row.inUnit"> = {{ digits(row.quantity) }} {{ row.symbol }}</template></span
              ><span v-if="row.from" class="block max-w-56 truncate text-fine text-soft"
                >from {{ row.from }}, {{ row.leadDays }} {{ plural(row.leadDays, 'day', 'days') }}</span
              ><span v-else class="block text-fine text-soft"
                >takes {{ row.leadDays }} {{ plural(row.leadDays, 'day', 'days') }}</span
              ></span
            ><span v-else class="text-brick">nothing says where it comes from</span></span
          ></template
        >
        <template #orderBy="{ row }"
          ><span :class="(row.lateBy > 0 || isPast(row.orderBy)) && 'font-semibold text-brick'">{{
            day(row.orderBy)
          }}</span
          ><span v-if="row.lateBy > 0" class="block text-fine text-brick"
            >{{ row.lateBy }} {{ plural(row.lateBy, 'day', 'days') }} late</span
          ></template
        >
        <template #go="{ row }"
          ><UiButton
            v-if="mayOrder(row)"
            small
            :busy="looking"
            :aria-label="`${VERB[row.kind!]} ${row.quantity} ${row.symbol} ${row.code}${row.site ? ` at ${row.site}` : ''}`"
            @click="order(row)"
            >{{ VERB[row.kind!] }} …</UiButton
          ><button
            v-if="mayOrder(row) && likeIt(row).length > 1 && isFirst(row)"
            type="button"
            class="ml-2 min-h-[24px] text-fine text-soft underline"
            :title="`All that comes from ${row.from} in one`"
            :aria-label="`${VERB[row.kind!]} all ${likeIt(row).length} from ${row.from}${row.site ? ` for ${row.site}` : ''}`"
            @click="order(row, true)"
          >
            all {{ likeIt(row).length }}
          </button></template
        >
        <template #empty
          ><UiEmptyState
            :title="data?.day === null ? 'Not looked yet' : data?.lines.length ? 'None of these' : 'Nothing runs low'"
            :summary="
              data?.day === null
                ? 'Low stock is looked for each morning, and whenever you ask.'
                : data?.lines.length
                  ? 'No item that runs low fits what you typed.'
                  : `For the next ${data?.aheadDays} working days everything can still be ordered in time.`
            "
        /></template>
      </UiDataTable>
    </UiSheet>
    <WorkshopNewJob v-if="making" :kind="making.kind" :begin="making.begin" @close="making = null" @done="ordered" />
  </div>
</template>
