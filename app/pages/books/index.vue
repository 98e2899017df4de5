<script setup lang="ts">
const tab = ref('value')
const { money, day } = usePrint()
const { data: value } = await useFetch('/api/books/value')
const { data: journal } = await useFetch('/api/books/journal')
const { data: accounts } = await useFetch('/api/books/accounts')
const { data: comparison, refresh: compare, status } = await useFetch('/api/stock/comparison', { immediate: false })
useHead({ title: 'Books · Tsumiki' })

const groups = computed(() => {
  const sums = new Map<string, bigint>()
  for (const row of value.value ?? []) sums.set(row.group, (sums.get(row.group) ?? 0n) + BigInt(row.value))
  return [...sums].sort((a, b) => Number(b[1] - a[1]))
})
const total = computed(() => groups.value.reduce((sum, [, v]) => sum + v, 0n))
const acts = computed(() => {
  const byAct = new Map<number, { day: string, label: string, who: string, lines: { account: string, amount: string }[] }>()
  for (const row of journal.value ?? []) {
    const act = byAct.get(row.postingId) ?? { day: row.day, label: row.label, who: row.who, lines: [] }
    act.lines.push(row)
    byAct.set(row.postingId, act)
  }
  return [...byAct].map(([id, act]) => ({ id, ...act }))
})
const isDebit = (amount: string): boolean => !amount.startsWith('-')
const COLUMNS = [{ key: 'group', name: 'Group' }, { key: 'code', name: 'Item' }, { key: 'quantity', name: 'Quantity', right: true }, { key: 'each', name: 'Average cost of one', right: true }, { key: 'value', name: 'Value', right: true }]
</script>

<template>
  <div>
    <UiHead title="Books" says="What the stock is worth, and what each act did to it."><span class="text-lg font-semibold">{{ money(total) }} <span class="text-base font-normal text-soft">in stock</span></span><a :href="tab === 'value' ? '/api/export/stock-value' : '/api/export/journal'" class="text-soft underline" download>Export CSV</a></UiHead>
    <UiTabs v-model="tab" :tabs="[{ key: 'value', name: 'Value of stock' }, { key: 'journal', name: 'Value journal' }, { key: 'ledger', name: 'Check the ledger' }]" />
    <div v-if="tab === 'value'" class="grid grid-cols-[17rem_1fr] items-start gap-4">
      <UiSheet title="By group"><ul class="grid gap-2"><li v-for="[group, sum] in groups" :key="group"><span class="flex justify-between gap-2"><span>{{ group }}</span><span>{{ money(sum) }}</span></span><span class="block h-3" :style="{ width: `${Math.max(1, Number(sum * 1000n / (groups[0]![1] || 1n)) / 10)}%` }"><GoodsBlock state="on hand" class="h-3 w-full" /></span></li></ul></UiSheet>
      <UiSheet flush>
        <UiTable :columns="COLUMNS" :rows="(value ?? []).map(row => ({ ...row, id: row.itemId }))" label="Value of stock">
          <template #code="{ row }"><UiItemChip :id="row.itemId" :code="row.code" :name="row.name" /></template>
          <template #quantity="{ row }"><UiQty :of="row.quantity" :unit="row.symbol" /></template>
          <template #each="{ row }"><span class="text-soft">{{ row.quantity === '0' ? '' : (Number(row.value) / 100 / Number(row.quantity)).toFixed(4) }}</span></template>
          <template #value="{ row }">{{ money(row.value) }}</template>
        </UiTable>
        <UiEmpty v-if="value?.length === 0" title="No stock yet" says="Receive goods or enter opening stock; its value is kept here." />
      </UiSheet>
    </div>
    <div v-else-if="tab === 'journal'" class="grid grid-cols-[17rem_1fr] items-start gap-4">
      <UiSheet title="Accounts"><ul><li v-for="account in accounts" :key="account.account" class="flex justify-between gap-2 border-b border-line/60 py-1"><span>{{ account.account }}</span><span>{{ money(account.amount) }}</span></li><li class="flex justify-between gap-2 py-1 font-semibold"><span>sum</span><span>{{ money((accounts ?? []).reduce((sum, a) => sum + BigInt(a.amount), 0n)) }}</span></li></ul></UiSheet>
      <UiSheet flush>
        <table class="w-full" aria-label="Value journal">
          <thead><tr class="text-left text-fine text-soft"><th class="px-3 py-2 font-medium">Day</th><th class="px-3 py-2 font-medium">Act and account</th><th class="px-3 py-2 text-right font-medium">Debit</th><th class="px-3 py-2 text-right font-medium">Credit</th></tr></thead>
          <tbody v-for="act in acts" :key="act.id" class="border-t border-line/60"><tr><td class="px-3 pt-2">{{ day(act.day) }}</td><td class="px-3 pt-2 font-medium" colspan="3">{{ act.label }} <span class="font-normal text-soft">{{ act.who }}</span></td></tr><tr v-for="line in act.lines" :key="line.account"><td /><td class="px-3 py-0.5 text-soft" :class="!isDebit(line.amount) && 'pl-10'">{{ line.account }}</td><td class="px-3 text-right">{{ isDebit(line.amount) ? money(line.amount) : '' }}</td><td class="px-3 text-right">{{ isDebit(line.amount) ? '' : money(line.amount.slice(1)) }}</td></tr></tbody>
        </table>
        <UiEmpty v-if="acts.length === 0" title="Nothing recorded yet" />
      </UiSheet>
    </div>
    <UiSheet v-else>
      <p class="mb-3 max-w-2xl">Balances are kept with every move. This works all of them out again from the moves alone and names each that differs; none should.</p>
      <UiButton primary :busy="status === 'pending'" @click="compare()">Work the balances out again</UiButton>
      <p v-if="comparison && comparison.length === 0" class="mt-3 flex items-center gap-2 font-medium"><GoodsBlock state="on hand" class="h-4 w-8" />Every balance equals the sum of its moves.</p>
      <ul v-else-if="comparison" class="mt-3 text-brick"><li v-for="(row, index) in comparison" :key="index">Item {{ row.itemId }} in {{ row.place }} {{ row.lot ?? '' }}: {{ row.onHand }} kept, {{ row.moved }} by the moves</li></ul>
    </UiSheet>
  </div>
</template>
