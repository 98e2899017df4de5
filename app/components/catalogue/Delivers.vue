<script setup lang="ts">
const props = defineProps<{ id: number }>()
const { data: items } = await useFetch('/api/catalogue/items', { query: { supplier: props.id, size: 100 } })
const { data: orders } = await useFetch('/api/purchasing/orders', { query: { status: 'open', size: 200 } })
const own = computed(() => (orders.value?.rows ?? []).filter((order) => order.supplierId === props.id))
</script>

<template>
  <div class="grid grid-cols-1 sm:grid-cols-2 gap-6 border-t border-line pt-3">
    <section>
      <h3 class="mb-1 font-semibold">Delivers</h3>
      <ul class="grid gap-1">
        <li v-for="item in items?.rows" :key="item.id">
          <UiItemChip :id="item.id" :code="item.code" :name="item.name" />
        </li>
      </ul>
      <p v-if="items?.total === 0" class="text-soft">No item has terms of this supplier yet. They stand on the item.</p>
    </section>
    <section>
      <h3 class="mb-1 font-semibold">Open orders</h3>
      <ul>
        <li v-for="order in own" :key="order.id">
          <NuxtLink :to="`/purchasing/${order.id}`" class="underline">{{ order.number }}</NuxtLink>{{ ' ' }}
          <span class="text-soft">{{ order.summary }}</span>
        </li>
      </ul>
      <p v-if="own.length === 0" class="text-soft">None.</p>
    </section>
  </div>
</template>
