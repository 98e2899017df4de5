<script setup lang="ts">
import type { Revision } from '~~/shared/structure/answers'

const props = defineProps<{ revisions: readonly Revision[]; shown: Revision; mayEdit: boolean }>()
const emit = defineEmits<{ show: [id: number]; begin: [from: number]; gone: []; undone: [] }>()
const { day } = usePrint()
const notices = useNotices()
const { run, detail } = useAct()
const comparedId = ref<number | null>(
  props.revisions.find((revision) => revision.id !== props.shown.id && revision.state === 'current')?.id ??
    props.revisions.find((revision) => revision.id !== props.shown.id)?.id ??
    null,
)
watch(
  () => props.shown.id,
  () => {
    if (comparedId.value === props.shown.id) {
      comparedId.value = props.revisions.find((revision) => revision.id !== props.shown.id)?.id ?? null
    }
  },
)
async function away(revision: Revision): Promise<void> {
  if (
    !(await run(async () => {
      await $fetch(`/api/catalogue/definitions/bills/${revision.id}`, { method: 'DELETE' })
      return true
    }))
  ) {
    return
  }
  notices.say({ kind: 'done', text: `The draft of revision ${revision.revision} is gone.` })
  emit('gone')
}
const others = computed(() =>
  props.revisions
    .filter((revision) => revision.id !== props.shown.id)
    .map((revision) => ({ value: revision.id, name: `revision ${revision.revision}, ${revision.state}` })),
)
</script>

<template>
  <div class="grid gap-4">
    <UiSheet flush>
      <UiLinesTable class="w-full" aria-label="All revisions">
        <thead>
          <tr class="text-left text-fine text-soft">
            <th class="px-4 py-2 font-medium">Revision</th>
            <th class="px-2 py-2 font-medium">State</th>
            <th class="px-2 py-2 font-medium">From</th>
            <th class="px-2 py-2 text-right font-medium">Lines</th>
            <th class="px-2 py-2 text-right font-medium">Builds</th>
            <th class="px-2 py-2 font-medium">Note</th>
            <th class="px-4 py-2"><span class="sr-only">Acts</span></th>
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="revision in revisions"
            :key="revision.id"
            class="border-t border-line/60"
            :class="revision.id === shown.id && 'bg-wash'"
          >
            <td class="px-4 py-1.5 font-medium">
              <button type="button" class="underline" @click="emit('show', revision.id)">
                {{ revision.revision }}
              </button>
            </td>
            <td class="px-2 py-1.5">{{ revision.state }}</td>
            <td class="px-2 py-1.5">{{ day(revision.fromOn) }}</td>
            <td class="px-2 py-1.5 text-right">{{ revision.lines }}</td>
            <td class="px-2 py-1.5 text-right">{{ revision.builds || '' }}</td>
            <td class="px-2 py-1.5 text-soft">{{ revision.note }}</td>
            <td class="px-4 py-1.5 text-right whitespace-nowrap">
              <template v-if="mayEdit"
                ><UiButton small @click="emit('begin', revision.id)">Copy to a new draft</UiButton>{{ ' ' }}
                <UiButton v-if="revision.state === 'draft'" small @click="away(revision)"
                  >Delete the draft</UiButton
                ></template
              >
            </td>
          </tr>
        </tbody>
      </UiLinesTable>
      <UiProblem :text="detail" class="m-3" />
    </UiSheet>
    <UiSheet v-if="revisions.length > 1" flush title="Side by side">
      <template #head
        ><UiChoice v-model="comparedId" class="w-52" label="Compare with" hide-label compact :options="others"
      /></template>
      <Suspense v-if="comparedId"
        ><StructureCompare :key="`${comparedId} ${shown.id} ${shown.version}`" :before="comparedId" :after="shown.id"
      /></Suspense>
    </UiSheet>
    <UiSheet title="Who changed what"
      ><Suspense
        ><CatalogueChanges
          :id="shown.id"
          :key="shown.id"
          kind="bills"
          :version="shown.version"
          :may-edit="mayEdit"
          @undone="(gone) => (gone ? emit('gone') : emit('undone'))" /></Suspense
    ></UiSheet>
  </div>
</template>
