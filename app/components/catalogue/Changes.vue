<script setup lang="ts">
import type { ChangeTold } from '~~/shared/catalogue/answers'
import type { DefinitionKind } from '~~/shared/catalogue/words'
const props = defineProps<{ kind: DefinitionKind; id: number; version: number; mayEdit: boolean }>()
const emit = defineEmits<{ undone: [gone: boolean] }>()
const { data, refresh } = await useFetch<ChangeTold[]>(
  () => `/api/catalogue/definitions/${props.kind}/${props.id}/changes`,
)
watch(
  () => props.version,
  () => refresh(),
)
const notices = useNotices()
const { busy, detail, run } = useAct()
const { day } = usePrint()
const formatMoment = (moment: string): string => {
  const local = new Date(moment)
  return `${day(`${local.getFullYear()}-${String(local.getMonth() + 1).padStart(2, '0')}-${String(local.getDate()).padStart(2, '0')}`)}, ${String(local.getHours()).padStart(2, '0')}:${String(local.getMinutes()).padStart(2, '0')}`
}
async function undo(change: ChangeTold): Promise<void> {
  if (!(await run(() => $fetch(`/api/catalogue/changes/${change.id}/undo`, { method: 'POST' })))) {
    return
  }
  notices.say({
    kind: 'done',
    text: `Undone: ${change.what === 'made' ? `${change.label} is gone again` : change.lines.map((line) => line.field).join(', ')}.`,
  })
  await refresh()
  emit('undone', change.what === 'made')
}
</script>

<template>
  <div>
    <UiProblem :text="detail" class="mb-2" />
    <p v-if="!data?.length" class="text-soft">No change since it was begun.</p>
    <ol>
      <li
        v-for="change in data"
        :key="change.id"
        class="flex items-start gap-4 border-b border-line/60 py-1.5 last:border-0"
        :class="change.undone && 'text-soft'"
      >
        <span class="w-44 shrink-0 text-soft">{{ formatMoment(change.at) }}<br />{{ change.who }}</span>
        <div class="min-w-0 flex-1">
          <p v-if="change.lines.length === 0">
            {{ change.what }}<span v-if="change.together" class="text-soft">, with others at once</span>
          </p>
          <p v-for="line in change.lines" :key="line.field" class="break-words">
            <span class="text-soft">{{ line.field }}</span> <UiChange :before="line.before" :after="line.after" />
          </p>
          <p v-if="change.undoes" class="text-fine text-soft">takes an earlier change back</p>
        </div>
        <UiTag v-if="change.undone">undone</UiTag>
        <UiButton v-else-if="mayEdit" small :busy="busy" @click="undo(change)">Undo</UiButton>
      </li>
    </ol>
  </div>
</template>
