<script setup lang="ts">
import type { BillRow } from '~~/shared/structure/answers'

const props = defineProps<{ rows: readonly BillRow[] }>()
const emit = defineEmits<{ done: []; close: [] }>()
const session = useSession()
const notices = useNotices()
const { day } = usePrint()
const open = computed({ get: () => true, set: () => emit('close') })
const fromOn = ref(session.today)
const left = ref(new Set<number>())
const { busy, detail, fields, run } = useAct()
const bills = computed(() =>
  props.rows.flatMap((row) => (row.draftId !== null && !left.value.has(row.draftId) ? [row.draftId] : [])),
)
const act = computed(() => `Use ${bills.value.length} ${plural(bills.value.length, 'draft', 'drafts')}`)
async function use(): Promise<void> {
  const done = await run(() =>
    $fetch('/api/structure/use', { method: 'POST', body: { bills: bills.value, fromOn: fromOn.value } }),
  )
  if (!done) {
    return
  }
  notices.say({
    kind: 'done',
    batchId: done.batchId,
    text: `${done.bills} ${plural(done.bills, 'draft is', 'drafts are')} used from ${day(fromOn.value)} on.`,
  })
  emit('done')
}
</script>

<template>
  <UiDialog
    v-model="open"
    title="Use drafts"
    :act="act"
    :busy="busy"
    :disabled="bills.length === 0"
    :problem="fields.fromOn ? '' : (fields.bills ?? detail)"
    @act="use"
  >
    <div class="mb-3 w-48"><UiDateField v-model="fromOn" label="From the day" :error="fields.fromOn" /></div>
    <UiLinesTable class="w-full" aria-label="Drafts to use">
      <tbody>
        <tr v-for="row in rows" :key="row.id" class="border-t border-line/60">
          <td class="w-8 py-1">
            <input
              type="checkbox"
              :checked="!left.has(row.draftId!)"
              :aria-label="`Use the draft of ${row.code}`"
              class="size-4 accent-[var(--maple)]"
              @change="left.delete(row.draftId!) || left.add(row.draftId!)"
            />
          </td>
          <td class="py-1">
            <b class="font-medium">{{ row.code }}</b> <span class="text-soft">{{ row.name }}</span>
          </td>
          <td class="py-1 text-right text-soft">
            revision {{ row.draftRevision }}{{ row.state === 'current' ? `, in place of ${row.revision}` : '' }}
          </td>
        </tr>
      </tbody>
    </UiLinesTable>
  </UiDialog>
</template>
