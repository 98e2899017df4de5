<script setup lang="ts">
import type { Revision } from '~~/shared/structure-answers'

const props = defineProps<{ revisions: readonly Revision[]; shown: Revision; mayEdit: boolean }>()
const emit = defineEmits<{ show: [id: number]; begin: [from: number]; gone: []; undone: [] }>()
const { day } = usePrint()
const notices = useNotices()
const { run, detail } = useAct()
const other = ref<number | null>(
  props.revisions.find((one) => one.id !== props.shown.id && one.state === 'current')?.id ??
    props.revisions.find((one) => one.id !== props.shown.id)?.id ??
    null,
)
watch(
  () => props.shown.id,
  () => {
    if (other.value === props.shown.id) {
      other.value = props.revisions.find((one) => one.id !== props.shown.id)?.id ?? null
    }
  },
)
async function away(one: Revision): Promise<void> {
  if (
    !(await run(async () => {
      await $fetch(`/api/catalogue/definitions/bills/${one.id}`, { method: 'DELETE' })
      return true
    }))
  ) {
    return
  }
  notices.say({ kind: 'done', text: `The draft of revision ${one.revision} is gone.` })
  emit('gone')
}
</script>

<template>
  <div class="grid gap-4">
    <UiSheet flush>
      <table class="w-full" aria-label="All revisions">
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
            v-for="one in revisions"
            :key="one.id"
            class="border-t border-line/60"
            :class="one.id === shown.id && 'bg-wash'"
          >
            <td class="px-4 py-1.5 font-medium">
              <button type="button" class="underline" @click="emit('show', one.id)">{{ one.revision }}</button>
            </td>
            <td class="px-2 py-1.5">{{ one.state }}</td>
            <td class="px-2 py-1.5">{{ day(one.fromOn) }}</td>
            <td class="px-2 py-1.5 text-right">{{ one.lines }}</td>
            <td class="px-2 py-1.5 text-right">{{ one.builds || '' }}</td>
            <td class="px-2 py-1.5 text-soft">{{ one.note }}</td>
            <td class="px-4 py-1.5 text-right whitespace-nowrap">
              <template v-if="mayEdit"
                ><UiButton small @click="emit('begin', one.id)">Copy to a new draft</UiButton>
                <UiButton v-if="one.state === 'draft'" small @click="away(one)"
                  >Throw the draft away</UiButton
                ></template
              >
            </td>
          </tr>
        </tbody>
      </table>
      <UiProblem :text="detail" class="m-3" />
    </UiSheet>
    <UiSheet v-if="revisions.length > 1" flush title="Side by side">
      <template #head
        ><label class="flex items-center gap-2 text-soft"
          >revision {{ shown.revision }} against
          <select
            v-model="other"
            aria-label="Compare with"
            class="h-8 rounded-block border border-line bg-sheet px-2 text-ink"
          >
            <option v-for="one in revisions.filter((r) => r.id !== shown.id)" :key="one.id" :value="one.id">
              revision {{ one.revision }}, {{ one.state }}
            </option>
          </select></label
        ></template
      >
      <Suspense v-if="other"
        ><StructureCompare :key="`${other} ${shown.id} ${shown.version}`" :before="other" :after="shown.id"
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
