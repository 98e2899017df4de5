<script setup lang="ts">
import { ratio, toDecimal } from '~~/core/units/exact'

const session = useSession()
const notices = useNotices()
const { day, price } = usePrint()
const { data: products } = await useFetch('/api/demand/shop/products')
const { data: orders, error, refresh } = await useFetch('/api/demand/shop/orders')
const basket = reactive(new Map<string, string>())
const form = reactive({ buyer: '', email: '', note: '', strange: '' })
const buying = useAct()
const fetching = useAct()
const search = ref('')
useHead({ title: 'Web shop · Tsumiki' })

const shown = computed(() =>
  (products.value ?? []).filter((product) =>
    `${product.code} ${product.name}`.toLowerCase().includes(search.value.toLowerCase()),
  ),
)
const chosen = computed(() =>
  [...basket]
    .filter(([, text]) => Number(text) > 0)
    .map(([code, text]) => ({
      code,
      quantity: Number(text),
      price: products.value?.find((product) => product.code === code)?.price ?? '1',
    })),
)
const total = computed(() =>
  toDecimal(
    chosen.value.reduce((sum, choice) => sum.add(ratio(choice.price).mul(ratio(String(choice.quantity)))), ratio('0')),
    2,
  ),
)
async function place(): Promise<void> {
  const lines = [
    ...chosen.value,
    ...(form.strange.trim() === '' ? [] : [{ code: form.strange.trim(), quantity: 1, price: '1' }]),
  ]
  const done = await buying.run(() =>
    $fetch('/api/demand/shop/orders', {
      method: 'POST',
      body: { buyer: form.buyer, email: form.email, note: form.note, lines },
    }),
  )
  if (!done) {
    return
  }
  basket.clear()
  Object.assign(form, { note: '', strange: '' })
  notices.say({ kind: 'done', text: `${done.number} lies in the shop.` })
  await refresh()
}
const waiting = computed(() => (orders.value ?? []).filter((order) => order.taken === null && order.fault === null))
async function take(): Promise<void> {
  const done = await fetching.run((key) =>
    $fetch('/api/demand/shop/fetch', {
      method: 'POST',
      body: { key, numbers: waiting.value.map((order) => order.number) },
    }),
  )
  if (!done) {
    return
  }
  notices.say({
    kind: 'done',
    text: `${done.orders.map((order) => order.number).join(', ')} ${plural(done.orders.length, 'is', 'are')} entered.`,
    links: done.orders.slice(0, 3).map((order) => ({ to: `/demand/orders/${order.id}`, label: order.number })),
  })
  void refreshToday()
  await refresh()
}
</script>

<template>
  <div>
    <UiHead
      title="Web shop"
      summary="A stand-in that ships with Tsumiki: leave orders on the left as a buyer would, fetch them on the right."
    >
      <UiButton @click="navigateTo('/demand')">Sales orders</UiButton>
      <UiButton
        v-if="session.allows('demand')"
        primary
        :busy="fetching.busy.value"
        :disabled="waiting.length === 0"
        @click="take"
        >Fetch {{ waiting.length }} {{ plural(waiting.length, 'order', 'orders') }}</UiButton
      >
    </UiHead>
    <UiProblem :text="error ? problemOf(error).detail : fetching.detail.value" class="mb-3" />
    <div class="grid grid-cols-1 items-start gap-4 lg:grid-cols-2">
      <UiSheet title="In the shop">
        <UiSearch v-model="search" label="Look for something" class="mb-2" />
        <ul class="mb-3 max-h-72 overflow-y-auto">
          <li
            v-for="entry in shown"
            :key="entry.code"
            class="flex items-center gap-3 border-b border-line/60 py-1 last:border-0"
          >
            <span class="min-w-0 flex-1 truncate"
              >{{ entry.name }} <span class="text-fine text-soft">{{ entry.code }}</span></span
            ><span>{{ price(entry.price) }}</span
            ><input
              :value="basket.get(entry.code) ?? ''"
              inputmode="numeric"
              :aria-label="`How many ${entry.name}`"
              class="h-8 w-16 rounded-block border border-line bg-sheet px-2 text-right"
              @input="basket.set(entry.code, ($event.target as HTMLInputElement).value)"
            />
          </li>
        </ul>
        <form class="grid grid-cols-1 sm:grid-cols-2 gap-3 border-t border-line pt-3" @submit.prevent="place">
          <UiTextField v-model="form.buyer" label="Your name" :error="buying.fields.value.buyer" /><UiTextField
            v-model="form.email"
            label="Your e-mail"
            :error="buying.fields.value.email"
          />
          <UiTextField
            v-model="form.note"
            label="A word to the bindery"
            :error="buying.fields.value.note"
          /><UiTextField
            v-model="form.strange"
            label="A code of the shop’s that Tsumiki may not know"
            hint="to see what a wrong code does"
          />
          <p v-if="buying.fields.value.lines" role="alert" class="sm:col-span-2 text-fine text-brick">
            {{ buying.fields.value.lines }}
          </p>
          <div class="sm:col-span-2 flex items-center gap-3">
            <UiButton type="submit" :busy="buying.busy.value" :disabled="!session.allows('demand')"
              >Place the order</UiButton
            ><span class="text-soft"
              >{{ chosen.length }} {{ plural(chosen.length, 'thing', 'things') }}, {{ price(total) }}</span
            >
          </div>
        </form>
      </UiSheet>
      <UiSheet title="Orders left in the shop" flush>
        <ul>
          <li v-for="order in orders" :key="order.number" class="border-b border-line/60 px-4 py-2 last:border-0">
            <p class="flex flex-wrap items-baseline gap-2">
              <b class="font-semibold">{{ order.number }}</b><span>{{ order.buyer }}</span
              ><span class="text-fine text-soft">{{ order.email }} · {{ day(order.placedOn) }}</span
              ><span class="ml-auto">{{ price(order.total) }}</span>
            </p>
            <p class="text-soft">
              {{ order.lines.map((line) => `${line.quantity} × ${line.item ?? line.code}`).join(', ')
              }}<template v-if="order.note"> · {{ order.note }}</template>
            </p>
            <p v-if="order.taken" class="text-fine">
              fetched:
              <NuxtLink :to="`/demand/orders/${order.taken.id}`" class="underline">{{ order.taken.number }}</NuxtLink>
            </p>
            <p v-else-if="order.fault" class="text-fine text-brick" role="alert">{{ order.fault }}</p>
            <p v-else class="text-fine text-soft">waits to be fetched</p>
          </li>
        </ul>
        <UiEmptyState
          v-if="orders?.length === 0"
          title="No orders in the shop"
          summary="Put something into the basket on the left and place the order."
        />
      </UiSheet>
    </div>
  </div>
</template>
