<script setup lang="ts">
const props = defineProps<{ text: string }>()
const said = useTemplateRef('said')
// What was refused is seen, however far down the page the button was.
watch(
  () => props.text,
  async (text) => {
    await nextTick()
    if (text !== '') {
      said.value?.scrollIntoView({ block: 'nearest' })
    }
  },
)
</script>

<template>
  <p v-if="text" ref="said" role="alert" class="rounded-block border border-brick bg-brick/5 px-3 py-2 text-brick">
    {{ text }}
  </p>
</template>
