<script setup lang="ts">
const emit = defineEmits<{ taken: [] }>()
const notices = useNotices()
const picturing = useAct()
/** Pictures that are named by the codes of their items. */
async function takePictures(files: readonly File[]): Promise<void> {
  if (files.length === 0) {
    return
  }
  const done = await picturing.run(async () =>
    $fetch('/api/catalogue/pictures/of-items', {
      method: 'POST',
      body: {
        files: await Promise.all(files.map(async (file) => ({ name: file.name, content: await asBase64(file) }))),
      },
    }),
  )
  if (!done) {
    return
  }
  notices.say({
    kind: 'done',
    text: `${done.changed} ${plural(done.changed, 'item has', 'items have')} a new picture.`,
    batchId: done.batchId,
  })
  emit('taken')
}
</script>

<template>
  <UiSheet title="Import pictures">
    <label
      class="flex flex-wrap items-center gap-3"
      @dragover.prevent
      @drop.prevent="takePictures([...($event.dataTransfer?.files ?? [])])"
      ><input
        type="file"
        multiple
        accept="image/png,image/jpeg,image/webp"
        aria-label="Pictures"
        class="block h-9 rounded-block border border-line px-2 py-1"
        @change="takePictures([...(($event.target as HTMLInputElement).files ?? [])])"
      /><span class="text-soft"
        >Several at once, each named by the code of its item: <b class="font-medium">NB-A5-RED.jpg</b></span
      ></label
    >
    <UiProblem :text="picturing.detail.value" class="mt-2" />
  </UiSheet>
</template>
