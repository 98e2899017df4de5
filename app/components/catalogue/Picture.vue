<script setup lang="ts">
/** `label`: what it is a picture of, where that is not an item. */
defineProps<{ disabled?: boolean; label?: string }>()
const pictureId = defineModel<number | null>({ required: true })
const { busy, detail, run } = useAct()
async function take(file: File | undefined | null): Promise<void> {
  if (!file) {
    return
  }
  const content = await new Promise<string>((resolve) => {
    const reader = new FileReader()
    reader.onload = () => resolve(String(reader.result).replace(/^data:[^,]*,/, ''))
    reader.readAsDataURL(file)
  })
  const made = await run(() => $fetch('/api/catalogue/pictures', { method: 'POST', body: { content } }))
  if (made) {
    pictureId.value = made.id
  }
}
</script>

<template>
  <div class="grid content-start gap-1" @dragover.prevent @drop.prevent="take($event.dataTransfer?.files[0])">
    <span class="text-fine font-medium text-soft">{{ label ?? 'Picture' }}</span>
    <div class="grid h-32 place-items-center overflow-hidden rounded-block border border-dashed border-line bg-wash">
      <img
        v-if="pictureId"
        :src="`/api/catalogue/pictures/${pictureId}`"
        :alt="label ?? 'Picture of the item'"
        class="max-h-32 object-contain"
      />
      <span v-else class="px-2 text-center text-fine text-soft">{{
        busy ? 'Taking it in …' : 'Drop a picture here'
      }}</span>
    </div>
    <div v-if="!disabled" class="flex gap-2">
      <label class="cursor-pointer text-fine underline"
        >Choose a picture<input
          type="file"
          accept="image/png,image/jpeg,image/webp"
          class="sr-only"
          @change="take(($event.target as HTMLInputElement).files?.[0])"
      /></label>
      <button v-if="pictureId" type="button" class="text-fine underline" @click="pictureId = null">Take it off</button>
    </div>
    <p v-if="detail" role="alert" class="text-fine text-brick">{{ detail }}</p>
  </div>
</template>
