<script setup lang="ts">
const session = useSession()
const notices = useNotices()
const { day } = usePrint()
const { busy, detail, run } = useAct()
const { data: files, refresh } = await useFetch('/api/purchasing/goods-file')
const mayReceive = computed(() => session.allows('receive'))
useHead({ title: 'Goods in from a file · Tsumiki' })

async function taken(): Promise<void> {
  void refreshToday()
  await refresh()
}
async function undo(id: number, label: string): Promise<void> {
  if (await run(() => $fetch(`/api/purchasing/goods-file/${id}/undo`, { method: 'POST' }))) {
    notices.say({ kind: 'done', text: `What ${label} brought is taken back.` })
    await taken()
  }
}
</script>

<template>
  <div class="grid gap-4">
    <UiHead
      title="Goods in from a file"
      summary="A packing list as CSV or XLSX, pasted rows, or a despatch advice (UBL 2.1). It is tried first with every fault by line, received whole or not at all, and taken back as one."
    >
      <UiButton @click="navigateTo('/purchasing')">All orders</UiButton>
    </UiHead>
    <CatalogueBringIn v-if="mayReceive" only="goods-received" base="/api/purchasing/goods-file" @taken="taken" />
    <UiSheet title="Files received" flush>
      <UiProblem :text="detail" class="m-3" />
      <ul>
        <li
          v-for="file in files"
          :key="file.id"
          class="flex items-center gap-3 border-b border-line/60 px-4 py-2 last:border-0"
        >
          <span class="min-w-0 flex-1 truncate"
            ><b class="font-medium">{{ file.label }}</b>
            <span class="text-soft"
              >{{ ' ' }}{{ day(file.at.slice(0, 10)) }} · {{ file.who }} · {{ file.made }}
              {{ plural(file.made, 'line', 'lines') }}</span
            ></span
          ><UiTag v-if="file.state === 'undone'">taken back</UiTag
          ><UiButton v-else-if="mayReceive" small :busy="busy" @click="undo(file.id, file.label)">Take back</UiButton>
        </li>
      </ul>
      <UiEmptyState
        v-if="files?.length === 0"
        title="Nothing yet"
        summary="Files of goods received stand here, and can be taken back as long as nothing has been done with what they brought."
      />
    </UiSheet>
  </div>
</template>
