<script setup lang="ts">
import type { OrderLine } from './OrderLines.vue'

/** An order that is changed. What is typed is kept as a draft, with the version of the order that it was typed on. */
const props = defineProps<{
  order: {
    id: number
    number: string
    version: number
    dueOn: string
    note: string
    siteId: number | null
    priority: number
  }
  /** Its lines as they are now. */
  lines: readonly OrderLine[]
}>()
const emit = defineEmits<{ saved: []; close: []; reload: [] }>()
const references = useReferences()
const notices = useNotices()
const { busy, detail, fields, code, effects, run, clear } = useAct()
const { dueOn, note, siteId, priority, version } = props.order
const form = reactive({ dueOn, note, siteId, priority: String(priority), version })
const lines = ref<OrderLine[]>([...props.lines])
const draft = useDocumentDraft(`sales order ${props.order.id}`, form, lines)

async function save(confirmed = false): Promise<void> {
  const body = {
    ...form,
    confirmed,
    lines: lines.value.map(({ id, itemId, quantity, unit, price }) => ({ id, itemId, quantity, unit, price })),
  }
  if (!(await run(() => $fetch(`/api/demand/orders/${props.order.id}`, { method: 'PUT', body })))) {
    return
  }
  draft.discard()
  notices.say({ kind: 'done', text: `${props.order.number} is changed.` })
  void refreshToday()
  emit('saved')
}
function close(): void {
  draft.discard()
  emit('close')
}
function reload(): void {
  draft.discard()
  emit('reload')
}
</script>

<template>
  <form @submit.prevent="save()">
    <UiDraft :since="draft.since.value" @anew="draft.beginAnew()" />
    <UiProblem :text="Object.keys(fields).length || effects.length ? '' : detail" class="mb-3" />
    <UiSheet title="Change the order" class="mb-4">
      <div class="mb-4 grid grid-cols-1 gap-3 md:grid-cols-[12rem_1fr]">
        <UiDateField v-model="form.dueOn" label="Due on" :error="fields.dueOn" /><UiTextField
          v-model="form.note"
          label="Note"
          :error="fields.note"
        /><UiTextField v-model="form.priority" label="Priority" right :error="fields.priority" /><UiChoice
          v-if="references.sites.length > 1"
          v-model="form.siteId"
          class="w-72"
          label="Filled from"
          empty="The customer’s site"
          :options="references.choices(references.sites, form.siteId)"
        />
      </div>
      <DemandOrderLines v-model="lines" :fields="fields" prices="selling" />
      <div class="mt-4 flex gap-2 border-t border-line pt-4">
        <UiButton primary type="submit" :busy="busy">Save the order</UiButton
        ><UiButton @click="close">Discard changes</UiButton
        ><UiButton v-if="code === 'stale-version'" @click="reload">Reload</UiButton>
      </div>
    </UiSheet>
    <UiNeedsYes
      v-if="effects.length > 0"
      title="Prices outside what is allowed"
      act="Save the order all the same"
      :effects="effects"
      :busy="busy"
      @confirm="save(true)"
      @leave="clear"
      >The order keeps that this was said yes to.</UiNeedsYes
    >
  </form>
</template>
