<script setup lang="ts">
const { day, money } = usePrint()
const from = ref('')
const until = ref('')
const before = ref<number | null>(null)
watch([from, until], () => {
  before.value = null
})
const { data: journal } = await useFetch('/api/books/journal', {
  query: computed(() => ({
    from: from.value,
    until: until.value,
    ...(before.value !== null && { before: before.value }),
  })),
})
const { data: accounts } = await useFetch('/api/books/accounts', { query: computed(() => ({ asOf: until.value })) })
const postings = computed(() => {
  const byAct = new Map<
    number,
    { day: string; label: string; who: string; lines: { account: string; amount: string }[] }
  >()
  for (const row of journal.value ?? []) {
    const act = byAct.get(row.postingId) ?? { day: row.day, label: row.label, who: row.who, lines: [] }
    act.lines.push(row)
    byAct.set(row.postingId, act)
  }
  return [...byAct].map(([id, act]) => ({ id, ...act }))
})
const isDebit = (amount: string): boolean => !amount.startsWith('-')
</script>

<template>
  <div class="grid grid-cols-1 md:grid-cols-[17rem_1fr] items-start gap-4">
    <UiSheet title="Accounts"
      ><ul>
        <li
          v-for="account in accounts"
          :key="account.account"
          class="flex justify-between gap-2 border-b border-line/60 py-1"
        >
          <span>{{ account.account }}</span><span class="whitespace-nowrap">{{ money(account.amount) }}</span>
        </li>
        <li class="flex justify-between gap-2 py-1 font-semibold">
          <span>sum</span><span>{{ money((accounts ?? []).reduce((sum, a) => sum + BigInt(a.amount), 0n)) }}</span>
        </li>
      </ul></UiSheet
    >
    <UiSheet flush>
      <div class="flex items-center gap-3 border-b border-line px-3 py-2 text-soft">
        <UiDateRange v-model:from="from" v-model:until="until" label="Days of the journal" />
        <a :href="`/api/export/journal?from=${from}&until=${until}`" class="ml-auto text-soft underline" download
          >Export CSV</a
        >
      </div>
      <UiLinesTable class="w-full" aria-label="Value journal">
        <thead>
          <tr class="text-left text-fine text-soft">
            <th class="px-3 py-2 font-medium">Day</th>
            <th class="px-3 py-2 font-medium">Posting, account</th>
            <th class="px-3 py-2 text-right font-medium">Debit</th>
            <th class="px-3 py-2 text-right font-medium">Credit</th>
          </tr>
        </thead>
        <tbody v-for="act in postings" :key="act.id" class="border-t border-line/60">
          <tr>
            <td class="px-3 pt-2">{{ day(act.day) }}</td>
            <td class="px-3 pt-2 font-medium" colspan="3">
              {{ act.label }} <span class="font-normal text-soft">{{ act.who }}</span>
            </td>
          </tr>
          <tr v-for="line in act.lines" :key="line.account">
            <td />
            <td class="px-3 py-0.5 text-soft" :class="!isDebit(line.amount) && 'pl-10'">{{ line.account }}</td>
            <td class="px-3 text-right">{{ isDebit(line.amount) ? money(line.amount) : '' }}</td>
            <td class="px-3 text-right">{{ isDebit(line.amount) ? '' : money(line.amount.slice(1)) }}</td>
          </tr>
        </tbody>
      </UiLinesTable>
      <UiEmptyState v-if="postings.length === 0" title="Nothing recorded here" />
      <div v-if="postings.length >= 50 || before !== null" class="flex gap-2 border-t border-line px-3 py-2">
        <UiButton v-if="before !== null" small @click="before = null">Newest</UiButton
        ><UiButton v-if="postings.length >= 50" small @click="before = postings.at(-1)!.id">Earlier</UiButton>
      </div>
    </UiSheet>
  </div>
</template>
