<script setup lang="ts">
/** A secret that is shown this once, to be copied and handed over: a link, a key. Null where there is none to show. */
const props = defineProps<{ title: string; name: string; secret: string | null; before?: string }>()
const emit = defineEmits<{ close: [] }>()
const notices = useNotices()
async function copy(): Promise<void> {
  await navigator.clipboard.writeText(props.secret ?? '')
  notices.say({ kind: 'done', text: `The ${props.name} is copied.` })
}
</script>

<template>
  <UiDialog
    :model-value="secret !== null"
    :title="title"
    :act="`Copy the ${name}`"
    @update:model-value="emit('close')"
    @act="copy"
  >
    <p class="mb-2"><slot /></p>
    <p class="rounded-block border border-line bg-wash p-2 break-all select-all">
      {{ before }}<span :data-test="name">{{ secret }}</span>
    </p>
  </UiDialog>
</template>
