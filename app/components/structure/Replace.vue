<script setup lang="ts">
import type { ReplaceRow } from '~~/shared/structure/answers'

const props = defineProps<{ item: { id: number; code: string } }>()
const emit = defineEmits<{ done: []; close: [] }>()
const notices = useNotices()
const session = useSession()
const references = useReferences()
const open = computed({ get: () => true, set: () => emit('close') })
const by = ref<number | null>(null)
const per = ref('1')
const fromOn = ref(session.today)
const preview = ref<ReplaceRow[]>([])
const left = ref(new Set<number>())
const looking = useAct({ latest: true })
const acting = useAct()
const bills = computed(() => preview.value.filter((row) => !left.value.has(row.billId)).map((row) => row.billId))
async function loadPreview(): Promise<void> {
  if (by.value === null) {
    return
  }
  const answer = await looking.run(() =>
    $fetch<{ rows: ReplaceRow[] }>('/api/structure/replace', {
      method: 'POST',
      body: { itemId: props.item.id, by: by.value, per: per.value, dry: true },
    }),
  )
  if (answer) {
    preview.value = answer.rows
  }
}
watch([by, per], loadPreview)
async function replace(): Promise<void> {
  const done = await acting.run(() =>
    $fetch<{ bills: number[]; batchId: number }>('/api/structure/replace', {
      method: 'POST',
      body: {
        itemId: props.item.id,
        by: by.value,
        per: per.value,
        bills: bills.value,
        fromOn: fromOn.value,
        dry: false,
      },
    }),
  )
  if (!done) {
    return
  }
  notices.say({
    kind: 'done',
    batchId: done.batchId,
    text: `${props.item.code} is replaced in ${done.bills.length} ${plural(done.bills.length, 'bill', 'bills')}; each got a new revision, or its draft was changed.`,
  })
  emit('done')
}
const problem = computed(() => acting.detail.value || (looking.fields.value.by ? '' : looking.detail.value))
</script>

<template>
  <UiDialog
    v-model="open"
    wide
    :title="`Replace ${item.code} in bills`"
    :act="`Replace it in ${bills.length} ${plural(bills.length, 'bill', 'bills')}`"
    :busy="acting.busy.value"
    :disabled="by === null || bills.length === 0"
    :problem="problem"
    @act="replace"
  >
    <div class="mb-3 grid grid-cols-1 md:grid-cols-[1fr_10rem_12rem] gap-3">
      <UiItemField v-model="by" label="By" :error="looking.fields.value.by" />
      <UiTextField
        v-model="per"
        label="So much for one"
        right
        :error="looking.fields.value.per"
        hint="in stock units"
      />
      <UiDateField v-model="fromOn" label="Used from" hint="empty: leave drafts" />
    </div>
    <UiLinesTable v-if="preview.length" class="w-full" aria-label="What would change">
      <thead>
        <tr class="text-left text-fine text-soft">
          <th class="w-8" />
          <th class="py-1 font-medium">In the bill of</th>
          <th class="py-1 font-medium">Revision</th>
          <th class="py-1 text-right font-medium">Before</th>
          <th class="py-1 text-right font-medium">After</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in preview" :key="row.billId" class="border-t border-line/60">
          <td>
            <input
              type="checkbox"
              :checked="!left.has(row.billId)"
              :aria-label="`Replace in ${row.code}`"
              class="size-4 accent-[var(--maple)]"
              @change="left.delete(row.billId) || left.add(row.billId)"
            />
          </td>
          <td class="py-1">
            <b class="font-medium">{{ row.code }}</b> <span class="text-soft">{{ row.name }}</span>
          </td>
          <td class="py-1 text-soft">
            {{ row.revision }}, {{ row.state }} →
            {{ row.state === 'draft' ? 'the draft is changed' : 'a new revision' }}
          </td>
          <td class="py-1 text-right">
            <UiQty :of="row.before" :unit="`${references.symbol(row.unit)} ${item.code}`" />
          </td>
          <td class="py-1 text-right"><UiQty :of="row.after" :unit="references.symbol(row.afterUnit)" strong /></td>
        </tr>
      </tbody>
    </UiLinesTable>
    <p v-else class="text-soft">
      {{
        by === null
          ? 'Choose what takes its place; then each bill is shown before and after.'
          : looking.busy.value
            ? 'Looking …'
            : ''
      }}
    </p>
  </UiDialog>
</template>
