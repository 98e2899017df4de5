<script setup lang="ts">
import type { SetPreview } from '~~/shared/catalogue/answers'
import { SETTABLE } from '~~/shared/catalogue/words'
import { INHERITABLE, ITEM_KINDS, ITEM_SOURCES, ITEM_STATUSES, TRACKINGS } from '~~/shared/catalogue/words'

const props = defineProps<{ ids: readonly number[] }>()
const emit = defineEmits<{ done: []; close: [] }>()
const references = useReferences()
const notices = useNotices()
const open = computed({ get: () => true, set: () => emit('close') })
const field = ref<string>('status')
const value = ref<string | null>('')
const inherit = ref(false)
const looking = useAct({ latest: true })
const { busy, detail, run } = useAct()
const preview = ref<SetPreview | null>(null)

const NAMES: Readonly<Record<string, string>> = {
  groupId: 'group',
  name2: 'name in a second language',
  shelfLifeDays: 'shelf life, days',
  leadDays: 'working days it takes',
  purchaseText: 'text on purchase orders',
  salesText: 'text on orders and delivery notes',
}
const nameOf = (key: string): string => NAMES[key] ?? key.replace(/[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`)
const WORDS: Readonly<Record<string, readonly string[]>> = {
  status: ITEM_STATUSES,
  kind: ITEM_KINDS,
  source: ITEM_SOURCES,
  tracking: TRACKINGS,
}
const options = computed(() => {
  if (field.value === 'groupId') {
    return references.groupChoices.map((group) => ({ value: String(group.value), name: group.name }))
  }
  if (field.value.endsWith('Unit')) {
    return references.units.filter((unit) => !unit.retired).map((unit) => ({ value: unit.code, name: unit.name }))
  }
  return WORDS[field.value]?.map((word) => ({ value: word, name: word })) ?? null
})
watch(field, () => {
  value.value = ''
  inherit.value = false
})
const body = computed(() => ({ ids: props.ids, field: field.value, value: value.value ?? '', inherit: inherit.value }))
const ready = computed(() => inherit.value || options.value === null || value.value !== '')
watch([body, ready], async () => {
  preview.value = null
  if (!ready.value) {
    return
  }
  const answer = await looking.run(() =>
    $fetch<SetPreview>('/api/catalogue/items/set', { method: 'POST', body: { ...body.value, dry: true } }),
  )
  if (answer) {
    preview.value = answer
  }
})

const act = computed(() => {
  const { changing = 0, stillUsed = [] } = preview.value ?? {}
  const items = `${changing} ${plural(changing, 'item', 'items')}`
  if (stillUsed.length > 0) {
    return `Retire ${items}, ${stillUsed.length} in use`
  }
  return preview.value ? `Set it on ${items}` : 'Set it'
})
async function set(): Promise<void> {
  const done = await run(() => $fetch<SetPreview>('/api/catalogue/items/set', { method: 'POST', body: body.value }))
  if (!done) {
    return
  }
  notices.say({
    kind: 'done',
    text: `${nameOf(field.value)} is set on ${done.changing} ${plural(done.changing, 'item', 'items')}.`,
    batchId: done.batchId ?? undefined,
  })
  emit('done')
}
</script>

<template>
  <UiDialog
    v-model="open"
    wide
    :title="`Set a field of ${ids.length} ${plural(ids.length, 'item', 'items')}`"
    :act="act"
    :busy="busy"
    :problem="detail || looking.detail.value"
    :disabled="!preview || preview.changing === 0 || preview.faults.length > 0"
    @act="set"
  >
    <div class="grid grid-cols-2 md:grid-cols-3 gap-3">
      <UiChoice v-model="field" label="Field" :options="SETTABLE.map((key) => ({ value: key, name: nameOf(key) }))" />
      <UiChoice
        v-if="options"
        v-model="value"
        label="New value"
        :disabled="inherit"
        :options="[{ value: '', name: 'Choose …' }, ...options]"
      /><UiTextField
        v-else
        :model-value="value ?? ''"
        label="New value"
        :disabled="inherit"
        hint="empty: nothing"
        @update:model-value="value = $event"
      />
      <UiCheckField v-if="INHERITABLE.some((key) => key === field)" v-model="inherit" label="What the group says" />
    </div>
    <div v-if="preview" class="mt-4">
      <div v-if="preview.faults.length" role="alert" class="mb-3 text-brick">
        <p class="font-semibold">Nothing will be set while this stands against it:</p>
        <p v-for="fault in preview.faults.slice(0, 8)" :key="fault.code + fault.detail">
          {{ fault.code }}: {{ fault.detail }}
        </p>
        <p v-if="preview.faults.length > 8">and {{ preview.faults.length - 8 }} more</p>
      </div>
      <div v-if="preview.stillUsed.length > 0" role="alert" class="mb-3">
        <p class="font-semibold text-brick">
          {{ preview.stillUsed.length }} of them {{ plural(preview.stillUsed.length, 'is', 'are') }} still in use:
        </p>
        <p v-for="item in preview.stillUsed.slice(0, 8)" :key="item.code">{{ item.code }}: {{ item.uses }}</p>
        <p v-if="preview.stillUsed.length > 8">and {{ preview.stillUsed.length - 8 }} more</p>
        <p class="mt-1 text-soft">Retired, they are offered nowhere any more, and nothing more of them is planned.</p>
      </div>
      <p class="mb-1 text-soft">{{ preview.changing }} of {{ preview.chosen }} change.</p>
      <UiLinesTable v-if="preview.changes.length" class="w-full" aria-label="What will change">
        <tbody>
          <tr v-for="change in preview.changes" :key="change.id" class="border-b border-line/60">
            <td class="py-1 pr-3 font-medium whitespace-nowrap">{{ change.code }}</td>
            <td class="w-full max-w-0 truncate py-1 text-soft">{{ change.name }}</td>
            <td class="py-1 pl-3 whitespace-nowrap">
              <UiChange :before="change.before" :after="change.after" />
            </td>
          </tr>
        </tbody>
      </UiLinesTable>
    </div>
  </UiDialog>
</template>
