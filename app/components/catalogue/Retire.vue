<script setup lang="ts">
/** What an item is still needed for, before it is retired. */
export interface StillUsed {
  readonly code: string
  readonly stock: string
  readonly documents: readonly { readonly label: string; readonly link: string }[]
  readonly bills: readonly string[]
}
defineProps<{ used: StillUsed }>()
const emit = defineEmits<{ retire: []; close: [] }>()
const open = computed({ get: () => true, set: () => emit('close') })
const SHOWN = 8
</script>

<template>
  <UiDialog v-model="open" :title="`Retire ${used.code}?`" :act="`Retire ${used.code}`" @act="emit('retire')">
    <p>It is still in use. Retired, it is offered nowhere any more, and nothing more of it is planned.</p>
    <ul class="mt-3 grid gap-2">
      <li v-if="used.stock">In stock: {{ used.stock }}</li>
      <li v-if="used.documents.length > 0">
        {{ used.documents.length }} open {{ plural(used.documents.length, 'document', 'documents') }}:
        <template v-for="(document, index) in used.documents.slice(0, SHOWN)" :key="index"
          >{{ index > 0 ? ', ' : ''
          }}<NuxtLink :to="document.link" class="underline">{{ document.label }}</NuxtLink></template
        >{{ used.documents.length > SHOWN ? ' …' : '' }}
      </li>
      <li v-if="used.bills.length > 0">
        In {{ used.bills.length }} {{ plural(used.bills.length, 'bill', 'bills') }}:
        {{ used.bills.slice(0, SHOWN).join(', ') }}{{ used.bills.length > SHOWN ? ' …' : '' }}
      </li>
    </ul>
  </UiDialog>
</template>
