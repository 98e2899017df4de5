<script setup lang="ts">
const route = useRoute()
const session = useSession()
const { money } = usePrint()
const TABS = computed(() => [
  { key: 'value', name: 'Value of stock' },
  { key: 'months', name: 'Over twelve months' },
  { key: 'open', name: 'Goods received not invoiced' },
  { key: 'journal', name: 'Value journal' },
  ...(session.allows('books') ? [{ key: 'costing', name: 'Costing' }] : []),
  { key: 'days', name: 'Closed days and limits' },
  { key: 'ledger', name: 'Check the ledger' },
])
const tab = ref(String(route.query.tab ?? 'value'))
const { data: accounts, refresh } = await useFetch('/api/books/accounts')
const total = computed(() => accounts.value?.find((account) => account.account === 'stock')?.amount ?? '0')
</script>

<template>
  <div>
    <UiHead title="Books" summary="What the stock is worth, and what each act did to it."
      ><span class="text-lg font-semibold"
        >{{ money(total) }} <span class="text-base font-normal text-soft">in stock</span></span
      ></UiHead
    >
    <UiTabs v-model="tab" :tabs="TABS" />
    <Suspense :key="tab">
      <BooksValue v-if="tab === 'value'" />
      <BooksValueByMonth v-else-if="tab === 'months'" />
      <BooksNotInvoiced v-else-if="tab === 'open'" />
      <BooksJournal v-else-if="tab === 'journal'" />
      <BooksCosting v-else-if="tab === 'costing'" @changed="refresh" />
      <BooksDays v-else-if="tab === 'days'" />
      <BooksCheck v-else />
    </Suspense>
  </div>
</template>
