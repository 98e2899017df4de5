<script setup lang="ts">
const session = useSession()
const references = useReferences()
const notices = useNotices()
const applying = useAct()
const { data: batches, refresh } = await useFetch('/api/catalogue/batches')
const mayEdit = computed(() => session.allows('catalogue'))
useHead({ title: 'Import and export · Tsumiki' })

async function undo(id: number): Promise<void> {
  if (!(await applying.run(() => $fetch(`/api/catalogue/batches/${id}/undo`, { method: 'POST' })))) {
    return
  }
  notices.say({ kind: 'done', text: 'Undone: everything is as it was.' })
  await Promise.all([references.reload(), refresh()])
}
</script>

<template>
  <div>
    <CatalogueLists />
    <UiHead
      title="Import and export"
      summary="CSV or XLSX. What goes out comes in again unchanged; what comes in is tried first, taken whole or not at all, and can be undone."
    />
    <div class="grid grid-cols-1 md:grid-cols-[1fr_22rem] items-start gap-4">
      <div class="grid gap-4">
        <CatalogueBringIn v-if="mayEdit" @taken="refresh()" />
        <CatalogueBringPictures v-if="mayEdit" @taken="refresh()" />
        <UiSheet title="Brought in and set at once" flush>
          <ul>
            <li
              v-for="batch in batches"
              :key="batch.id"
              class="flex items-center gap-3 border-b border-line/60 px-4 py-2 last:border-0"
            >
              <span class="min-w-0 flex-1 truncate"
                ><b class="font-medium">{{ batch.label }}</b
                >{{ ' ' }}
                <span class="text-soft"
                  >{{ tableWords(batch.table) }} · {{ batch.who
                  }}<template v-if="batch.kind === 'file'">
                    · {{ batch.made }} added, {{ batch.changed }} changed</template
                  ></span
                ></span
              ><UiTag v-if="batch.state === 'undone'">undone</UiTag
              ><UiButton v-else-if="mayEdit" small :busy="applying.busy.value" @click="undo(batch.id)">Undo</UiButton>
            </li>
          </ul>
          <UiEmptyState
            v-if="batches?.length === 0"
            title="Nothing yet"
            summary="Files that are taken in stand here, and can be undone."
          />
        </UiSheet>
      </div>
      <CatalogueTakeOut />
    </div>
  </div>
</template>
