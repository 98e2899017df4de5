<script setup lang="ts">
import type { GridColumn } from '~/composables/ui/use-grid-paste'
import type { ItemForm } from '~/composables/catalogue/use-item-form'

defineProps<{ fields: Record<string, string>; disabled?: boolean }>()
const form = defineModel<ItemForm>({ required: true })
const LINKS: GridColumn[] = [
  { key: 'title', name: 'Title', width: '16rem' },
  { key: 'url', name: 'Address' },
]
</script>

<template>
  <div class="grid gap-4">
    <div class="grid grid-cols-1 md:grid-cols-[14rem_1fr_1fr] gap-4">
      <CataloguePicture v-model="form.pictureId" :disabled="disabled" />
      <UiTextField
        v-model="form.purchaseText"
        label="Text on purchase orders"
        :lines="5"
        :error="fields.purchaseText"
        :disabled="disabled"
      />
      <UiTextField
        v-model="form.salesText"
        label="Text on orders and delivery notes"
        :lines="5"
        :error="fields.salesText"
        :disabled="disabled"
      />
    </div>
    <UiTextField v-model="form.note" label="Note" :lines="2" :error="fields.note" :disabled="disabled" />
    <div>
      <h3 class="mb-1 font-semibold">Links</h3>
      <UiGrid
        v-model="form.links"
        label="Links"
        path="links"
        :columns="LINKS"
        :fields="fields"
        :disabled="disabled"
        :blank="() => ({ title: '', url: '' })"
        add="Add a link"
      />
      <p class="mt-1 flex gap-3">
        <a
          v-for="link in form.links.filter((l) => /^https?:/.test(l.url))"
          :key="link.url"
          :href="link.url"
          target="_blank"
          rel="noopener noreferrer"
          class="underline"
          >{{ link.title || link.url }}</a
        >
      </p>
    </div>
  </div>
</template>
