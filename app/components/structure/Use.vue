<script setup lang="ts">
import type { Revision } from '~~/shared/structure/answers'

const props = defineProps<{
  billId: number
  version: number
  revisions: readonly Revision[]
  item: { id: number; code: string; source: string; version: number }
}>()
const emit = defineEmits<{ done: []; close: [] }>()
const session = useSession()
const notices = useNotices()
const { day } = usePrint()
const open = computed({ get: () => true, set: () => emit('close') })
const fromOn = ref(session.today)
const becomes = ref<'made' | 'kit'>('made')
const isMade = ['made', 'kit'].includes(props.item.source)
const { busy, detail, fields, run } = useAct()
const own = computed(() => props.revisions.find((revision) => revision.id === props.billId)!)
const now = computed(() => props.revisions.find((revision) => revision.state === 'current') ?? null)
async function use(): Promise<void> {
  const done = await run(() =>
    $fetch(`/api/structure/bills/${props.billId}/use`, {
      method: 'POST',
      body: { version: props.version, fromOn: fromOn.value, becomes: becomes.value },
    }),
  )
  if (!done) {
    return
  }
  notices.say({
    kind: 'done',
    text: `Revision ${own.value.revision} of ${props.item.code} is used from ${day(fromOn.value)} on.`,
  })
  emit('done')
}
</script>

<template>
  <UiDialog
    v-model="open"
    :title="`Use revision ${own.revision} of ${item.code}`"
    :act="`Use revision ${own.revision}`"
    :busy="busy"
    :problem="fields.fromOn ? '' : (Object.values(fields)[0] ?? detail)"
    @act="use"
  >
    <div class="grid gap-3">
      <div class="w-48"><UiDateField v-model="fromOn" label="From the day" :error="fields.fromOn" /></div>
      <UiChoice
        v-if="!isMade"
        v-model="becomes"
        :label="`${item.code} is ${item.source} until now; it becomes`"
        :options="[
          { value: 'made', name: 'made' },
          { value: 'kit', name: 'a kit' },
        ]"
      />
      <p class="text-soft">
        <template v-if="now">Until then revision {{ now.revision }} stays in use. </template>New builds, plans and costs
        take it from that day on; builds that are planned already keep to theirs. It is not edited any more: to change
        it, revise it.
      </p>
    </div>
  </UiDialog>
</template>
