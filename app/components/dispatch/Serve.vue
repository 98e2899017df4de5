<script setup lang="ts">
import type { AllocatedOrder } from '~~/shared/demand/requests'

const emit = defineEmits<{ done: [count: number]; close: [] }>()
const { day, amount } = usePrint()
const form = reactive({ rule: 'due date' as 'due date' | 'priority', untilOn: '' })
const looking = useAct({ latest: true })
const { busy, detail, run } = useAct()
const orders = ref<AllocatedOrder[]>([])
async function loadPreview(): Promise<void> {
  const seen = await looking.run((key) =>
    $fetch<{ orders: AllocatedOrder[] }>('/api/dispatch/allocate', {
      method: 'POST',
      body: { key, ...form, dry: true },
    }),
  )
  if (seen) {
    orders.value = seen.orders
  }
}
watch(form, loadPreview, { immediate: true })
async function act(): Promise<void> {
  const done = await run((key) =>
    $fetch<{ orders: AllocatedOrder[] }>('/api/dispatch/allocate', {
      method: 'POST',
      body: { key, ...form, dry: false },
    }),
  )
  if (done) {
    emit('done', done.orders.length)
  }
}
</script>

<template>
  <UiDialog
    :model-value="true"
    wide
    title="Allocate for all open orders"
    :act="`Allocate for ${orders.length} ${plural(orders.length, 'order', 'orders')}`"
    :busy="busy"
    :problem="detail || looking.detail.value"
    :disabled="orders.length === 0 || looking.busy.value"
    @act="act"
    @update:model-value="emit('close')"
  >
    <div class="mb-3 grid grid-cols-1 md:grid-cols-[20rem_12rem] gap-3">
      <UiChoice
        v-model="form.rule"
        label="Where there is not enough, first"
        :options="[
          { value: 'due date', name: 'what is due soonest' },
          { value: 'priority', name: 'the highest priority, then what is due soonest' },
        ]"
      />
      <UiDateField v-model="form.untilOn" label="Only what is due by" />
    </div>
    <UiLinesTable v-if="orders.length" class="w-full" aria-label="Proposed allocation">
      <thead>
        <tr class="border-b border-line text-left text-fine text-soft">
          <th class="py-1 font-medium">Order</th>
          <th class="font-medium">Due</th>
          <th class="font-medium">Allocated</th>
          <th class="font-medium">Still missing</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="order in orders" :key="order.id" class="border-b border-line/60 align-top">
          <td class="py-1 whitespace-nowrap">
            {{ order.number }} <span class="text-soft">{{ order.customer }}</span><span
              v-if="order.priority !== 0"
              class="ml-1 text-fine text-soft"
              >priority {{ order.priority }}</span
            >
          </td>
          <td class="whitespace-nowrap">{{ day(order.dueOn) }}</td>
          <td>
            <span
              v-for="line in order.lines.filter((line) => line.quantity !== '0')"
              :key="line.code"
              class="mr-3 inline-flex items-center gap-1.5"
              ><GoodsBlock state="allocated" class="h-3 w-4" />{{ amount(line.quantity) }} {{ line.symbol }}
              {{ line.code }}</span
            >
          </td>
          <td>
            <span
              v-for="line in order.lines.filter((line) => line.missing !== '0')"
              :key="line.code"
              class="mr-3 inline-flex items-center gap-1.5 text-brick"
              ><GoodsBlock state="missing" class="h-3 w-4" />{{ amount(line.missing) }} {{ line.symbol }}
              {{ line.code }}</span
            >
          </td>
        </tr>
      </tbody>
    </UiLinesTable>
    <p v-else-if="!looking.busy.value" class="text-soft">Nothing that open orders still want is free.</p>
  </UiDialog>
</template>
