<script setup lang="ts">
import { watchDebounced } from '@vueuse/core'

interface Choice {
  readonly id: number
  readonly code: string
  readonly name: string
}
const emit = defineEmits<{ done: [items: Choice[]]; close: [] }>()
const open = computed({ get: () => true, set: () => emit('close') })
const search = ref('')
const found = ref<Choice[]>([])
const chosen = ref(new Map<number, Choice>())
const list = useTemplateRef('list')
let asked = 0
async function loadMatches(): Promise<void> {
  const question = ++asked
  const answer = await $fetch('/api/catalogue/items', { query: { search: search.value, status: 'active', size: 40 } })
  if (question === asked) {
    found.value = answer.rows
  }
}
await loadMatches()
watchDebounced(search, loadMatches, { debounce: 120 })
function toggle(item: Choice): void {
  if (!chosen.value.delete(item.id)) {
    chosen.value.set(item.id, item)
  }
}
const boxes = (): HTMLElement[] => [...(list.value?.querySelectorAll<HTMLElement>('input') ?? [])]
function step(event: KeyboardEvent, by: number): void {
  const all = boxes()
  all[all.indexOf(event.target as HTMLElement) + by]?.focus()
}
</script>

<template>
  <UiDialog
    v-model="open"
    title="Add several components"
    :act="`Add ${chosen.size} ${plural(chosen.size, 'component', 'components')}`"
    :disabled="chosen.size === 0"
    @act="emit('done', [...chosen.values()])"
  >
    <input
      v-model="search"
      aria-label="Find items"
      placeholder="Code, name or barcode"
      autocomplete="off"
      class="mb-2 h-9 w-full rounded-block border border-line bg-sheet px-2.5"
      @keydown.down.prevent="boxes()[0]?.focus()"
    />
    <ul ref="list" class="max-h-[42vh] overflow-y-auto">
      <li v-for="item in found" :key="item.id">
        <label class="flex cursor-pointer items-center gap-2 px-1 py-1 hover:bg-wash"
          ><input
            type="checkbox"
            :checked="chosen.has(item.id)"
            class="size-4 accent-[var(--maple)]"
            @change="toggle(item)"
            @keydown.down.prevent="step($event, 1)"
            @keydown.up.prevent="step($event, -1)"
          /><b class="font-medium">{{ item.code }}</b
          ><span class="truncate text-soft">{{ item.name }}</span></label
        >
      </li>
      <li v-if="found.length === 0" class="py-2 text-soft">Nothing fits.</li>
    </ul>
    <p v-if="chosen.size" class="mt-2 text-fine text-soft">
      {{ [...chosen.values()].map((item) => item.code).join(', ') }}
    </p>
  </UiDialog>
</template>
