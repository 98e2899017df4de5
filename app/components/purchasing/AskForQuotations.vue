<script setup lang="ts">
import { X } from '@lucide/vue'
import { toDay, toIso } from '~~/core/calendar/days'
import type { ItemName } from '~~/shared/catalogue/answers'
import type { MeasuredItem } from '~/composables/ui/use-measure'

/** What is asked for begins with lines of the buying list, or with an empty one; who is asked with those who sell it. */
export interface AskedLine {
  readonly itemId: number
  readonly code: string
  readonly name: string
  readonly quantity: string
  readonly unit: string
  readonly neededOn: string
  readonly wantId: number | null
}
const props = defineProps<{ lines?: readonly AskedLine[]; supplierIds?: readonly number[]; siteId?: number | null }>()
const emit = defineEmits<{ done: [id: number]; close: [] }>()
const session = useSession()
const references = useReferences()
const notices = useNotices()
const { asTyped } = usePrint()
const { busy, detail, fields, run } = useAct()
const open = computed({ get: () => true, set: () => emit('close') })

interface Line {
  itemId: number | null
  shown: ItemName | null
  measured: MeasuredItem | null
  quantity: string
  unit: string
  neededOn: string
  wantId: number | null
}
const blank = (): Line => ({
  itemId: null,
  shown: null,
  measured: null,
  quantity: '',
  unit: 'piece',
  neededOn: session.today,
  wantId: null,
})
const lines = ref<Line[]>(
  props.lines?.map((line) => ({
    ...line,
    shown: { id: line.itemId, code: line.code, name: line.name },
    measured: null,
    quantity: asTyped(line.quantity),
  })) ?? [blank()],
)
async function measure(line: Line, isNew: boolean): Promise<void> {
  const item = await fetchMeasured(line.itemId!)
  line.measured = item
  if (isNew || line.unit === '') {
    line.unit = isNew ? (item.buyingUnit ?? item.stockUnit) : item.stockUnit
  }
}
onMounted(() => {
  for (const line of lines.value.filter(({ itemId }) => itemId !== null)) {
    void measure(line, false)
  }
})

const suppliers = ref<number[]>([...(props.supplierIds ?? [])])
const adding = ref<number | null>(null)
watch(adding, (id) => {
  if (id !== null && !suppliers.value.includes(id)) {
    suppliers.value = [...suppliers.value, id]
  }
  adding.value = null
})
const nameOf = (id: number): string => references.suppliers.find((supplier) => supplier.id === id)?.name ?? ''

const form = reactive({ answerBy: toIso(toDay(session.today) + 7), note: '' })
async function ask(): Promise<void> {
  const made = await run((key) =>
    $fetch<{ id: number; number: string }>('/api/purchasing/quotations', {
      method: 'POST',
      body: {
        key,
        ...form,
        siteId: props.siteId ?? null,
        supplierIds: suppliers.value,
        lines: lines.value.map(({ itemId, quantity, unit, neededOn, wantId }) => ({
          itemId,
          quantity,
          unit,
          neededOn,
          wantId,
        })),
      },
    }),
  )
  if (made) {
    notices.say({ kind: 'done', text: `${made.number} is noted. Send it, and enter what comes back.` })
    emit('done', made.id)
  }
}
</script>

<template>
  <UiDialog
    v-model="open"
    title="Ask for quotations"
    act="Note the request"
    wide
    :busy="busy"
    :problem="Object.keys(fields).length ? '' : detail"
    @act="ask"
  >
    <section class="mb-4" aria-label="Who is asked">
      <ul v-if="suppliers.length" class="mb-2 flex flex-wrap gap-2">
        <li
          v-for="id in suppliers"
          :key="id"
          class="inline-flex items-center gap-1 rounded-block border border-line bg-wash pl-3"
        >
          {{ nameOf(id)
          }}<button
            type="button"
            class="grid size-8 place-items-center text-soft hover:text-ink"
            :aria-label="`Do not ask ${nameOf(id)}`"
            @click="suppliers = suppliers.filter((supplier) => supplier !== id)"
          >
            <X class="size-3.5" />
          </button>
        </li>
      </ul>
      <div class="grid gap-3 sm:grid-cols-[1fr_12rem]">
        <UiPartnerField v-model="adding" kind="supplier" label="Ask" :error="fields.supplierIds" />
        <UiDateField v-model="form.answerBy" label="Answer by" :error="fields.answerBy" />
      </div>
    </section>
    <UiLinesTable class="w-full" aria-label="Lines to be quoted">
      <thead>
        <tr>
          <th class="text-left">Item</th>
          <th class="text-left">Quantity</th>
          <th class="text-left">Needed by</th>
          <th><span class="sr-only">Remove</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(line, index) in lines" :key="index" class="align-top">
          <td class="min-w-56 pr-2">
            <UiItemField
              v-model="line.itemId"
              :shown="line.shown"
              :label="`Item, line ${index + 1}`"
              hide-label
              :error="fields[`lines.${index}.itemId`]"
              @chosen="measure(line, true)"
            />
          </td>
          <td class="w-52 pr-2">
            <UiQuantityField
              v-model="line.quantity"
              v-model:unit="line.unit"
              :label="`Quantity, line ${index + 1}`"
              hide-label
              :item="line.measured"
              :error="fields[`lines.${index}.quantity`]"
            />
          </td>
          <td class="w-40 pr-2">
            <UiDateField
              v-model="line.neededOn"
              :label="`Needed by, line ${index + 1}`"
              hide-label
              :error="fields[`lines.${index}.neededOn`]"
            />
          </td>
          <td class="w-9">
            <UiButton :aria-label="`Remove line ${index + 1}`" @click="lines.splice(index, 1)">×</UiButton>
          </td>
        </tr>
      </tbody>
    </UiLinesTable>
    <p v-if="fields.lines" class="mt-1 text-fine text-brick" role="alert">{{ fields.lines }}</p>
    <UiButton small class="mt-2" @click="lines.push(blank())">Add a line</UiButton>
    <UiTextField v-model="form.note" class="mt-4" label="Note to all of them" :error="fields.note" />
  </UiDialog>
</template>
