<script setup lang="ts">
import type { Found } from '~~/shared/catalogue/answers'
import { Dialog, DialogPanel } from '@headlessui/vue'
import { useEventListener, watchDebounced } from '@vueuse/core'

/** What can be gone to: a thing, or an area of the application. */
type Target = Found | (Omit<Found, 'kind'> & { kind: 'area' })

const open = ref(false)
const text = ref('')
const found = ref<Found[]>([])
const active = ref(0)
const sheets = useSheets()
const references = useReferences()

const places = computed<Target[]>(() =>
  AREAS.filter((area) => text.value !== '' && area.name.toLowerCase().startsWith(text.value.toLowerCase())).map(
    (area, id) => ({ kind: 'area', id, code: area.name, name: area.summary }),
  ),
)
const list = computed(() => [...places.value, ...found.value])
watchDebounced(
  text,
  async (asked) => {
    active.value = 0
    const answer = asked.trim() === '' ? [] : await $fetch('/api/find', { query: { text: asked } })
    if (asked === text.value) {
      found.value = answer
    }
  },
  { debounce: 80 },
)

const PATHS: Readonly<Record<string, (thing: Target) => string>> = {
  'sales order': (t) => `/demand/orders/${t.id}`,
  'purchase order': (t) => `/purchasing/${t.id}`,
  build: (t) => `/workshop/builds/${t.id}`,
  'break-down': (t) => `/workshop/break-downs/${t.id}`,
  lot: (t) => `/stock/lots/${t.id}`,
  piece: (t) => `/stock/pieces/${t.id}`,
  transfer: (t) => `/stock/transfers/${t.id}`,
  'stock count': (t) => `/stock/counts/${t.id}`,
  bin: (t) => `/stock?bin=${t.id}`,
  supplier: (t) => `/catalogue/lists/suppliers?open=${t.id}`,
  customer: (t) => `/catalogue/lists/customers?open=${t.id}`,
  area: (t) => AREAS.find((a) => a.name === t.code)!.path,
}
function go(thing: Target | undefined): void {
  if (!thing) {
    return
  }
  open.value = false
  if (thing.kind === 'item') {
    sheets.open(thing.id)
  } else {
    void navigateTo(PATHS[thing.kind]!(thing))
  }
}

function show(): void {
  text.value = ''
  found.value = []
  open.value = true
}
defineExpose({ show })

// A scanner types fast and ends with Enter; wherever it is used, what it names is opened.
let typed = ''
let last = 0
function isCalled(event: KeyboardEvent): boolean {
  if (event.key === 'k') {
    return event.ctrlKey || event.metaKey
  }
  return event.key === '/' && !isTyping() && performance.now() - last > SCANNED_WITHIN_MS
}
async function openScanned(code: string): Promise<void> {
  const [best] = await $fetch('/api/find', { query: { text: code } })
  if (best?.by && best.kind === 'item') {
    go(best)
    const amount = best.unit ? `one ${references.unitName(best.unit)} of ` : ''
    useNotices().say({ kind: 'done', text: `${best.by} is ${amount}${best.code} ${best.name}.` })
  } else if (best?.code.toLowerCase() === code.toLowerCase()) {
    go(best)
  } else {
    useNotices().say({ kind: 'problem', text: `Nothing here is named “${code}”.` })
  }
}
useEventListener('keydown', async (event: KeyboardEvent) => {
  if (isCalled(event)) {
    event.preventDefault()
    show()
    return
  }
  if (isTyping()) {
    return
  }
  const now = performance.now()
  if (now - last > SCANNED_WITHIN_MS) {
    typed = ''
  }
  last = now
  if (event.key.length === 1) {
    typed += event.key
  } else if (event.key === 'Enter' && typed.length >= LEAST_CODE) {
    const code = typed
    typed = ''
    await openScanned(code)
  }
})
</script>

<template>
  <Dialog :open="open" class="relative z-50" @close="open = false">
    <div class="fixed inset-0 bg-ink/20" aria-hidden="true" />
    <div class="fixed inset-0 flex items-start justify-center p-16">
      <DialogPanel class="w-full max-w-xl overflow-hidden rounded-md border border-line bg-sheet shadow-xl">
        <input
          v-model="text"
          aria-label="Find anything"
          placeholder="Item, order, lot, bin, area… a few letters are enough"
          class="h-12 w-full border-b border-line bg-sheet px-4 text-base outline-none placeholder:text-soft"
          autofocus
          @keydown.down.prevent="active = Math.min(active + 1, list.length - 1)"
          @keydown.up.prevent="active = Math.max(active - 1, 0)"
          @keydown.enter.prevent="go(list[active])"
        />
        <ul class="max-h-96 overflow-y-auto py-1" role="listbox" aria-label="What was found">
          <li
            v-for="(thing, index) in list"
            :key="`${thing.kind}${thing.id}${thing.code}`"
            role="option"
            :aria-selected="index === active"
            class="flex cursor-pointer items-baseline gap-3 px-4 py-1.5"
            :class="index === active && 'bg-wash'"
            @mouseenter="active = index"
            @click="go(thing)"
          >
            <span class="w-24 shrink-0 text-fine text-soft">{{ thing.kind }}</span><b class="font-medium">{{
              thing.code
            }}</b
            ><span class="truncate text-soft"
              >{{ thing.name
              }}<template v-if="thing.by">
                · {{ thing.by }}{{ thing.unit ? `, one ${references.unitName(thing.unit)}` : '' }}</template
              ></span
            >
          </li>
          <li v-if="text && list.length === 0" class="px-4 py-3 text-soft">Nothing found for “{{ text }}”.</li>
        </ul>
      </DialogPanel>
    </div>
  </Dialog>
</template>
